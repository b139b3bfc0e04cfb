import { fireEvent, render, screen } from '@testing-library/react-native';
import { Path } from 'react-native-svg';
import { Invitation } from './Invitation';

const invitation = (addresses: string[]) => ({
  id: 'i',
  code: '123456',
  leftMs: 120_000,
  addresses,
  qrs: addresses.map((_one, at) => ({ size: 25, path: `M${at} 0h1v1h-1z` })),
});

describe('an invitation', () => {
  it('of a machine on several networks shows the code of the one that is chosen, and its address', () => {
    render(
      <Invitation
        invitation={invitation(['https://10.0.0.5:4443', 'https://192.168.7.5:4443'])}
        onOver={() => undefined}
      />,
    );
    const path = (): unknown => screen.UNSAFE_getByType(Path).props.d as unknown;
    expect(path()).toBe('M0 0h1v1h-1z');
    expect(screen.getByText('https://10.0.0.5:4443/join')).toBeTruthy();
    fireEvent.press(screen.getByText('192.168.7.5'));
    expect(path()).toBe('M1 0h1v1h-1z');
    expect(screen.getByText('https://192.168.7.5:4443/join')).toBeTruthy();
    expect(screen.queryByText('https://10.0.0.5:4443/join')).toBeNull();
  });

  it('of a machine on one network asks nothing', () => {
    render(<Invitation invitation={invitation(['https://10.0.0.5:4443'])} onOver={() => undefined} />);
    expect(screen.queryByText(/several networks/)).toBeNull();
    expect(screen.getByText('https://10.0.0.5:4443/join')).toBeTruthy();
  });
});
