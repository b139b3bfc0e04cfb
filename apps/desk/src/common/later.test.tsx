import { act, render } from '@testing-library/react-native';
import { Text } from 'react-native';
import { Later, useLater } from './later';

const Shown = ({ part }: { readonly part: Later<string> }) => <Text>{useLater(part) ?? 'loading'}</Text>;

describe('a part that comes later', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('is shown when it comes, and at once where it has come before', async () => {
    let give: (text: string) => void = () => undefined;
    const part = new Later(() => new Promise<string>((resolve) => (give = resolve)));
    const first = render(<Shown part={part} />);
    first.getByText('loading');
    await act(async () => give('here'));
    first.getByText('here');
    render(<Shown part={part} />).getByText('here');
  });

  it('is asked for again when it did not come, and fetched once for all who wait', async () => {
    let tries = 0;
    const part = new Later(() => ((tries += 1) === 1 ? Promise.reject(new Error('away')) : Promise.resolve('here')));
    const shown = render(<Shown part={part} />);
    await act(() => jest.advanceTimersByTimeAsync(4900));
    expect([tries, shown.queryByText('here')]).toEqual([1, null]);
    await act(() => jest.advanceTimersByTimeAsync(200));
    shown.getByText('here');
    expect(await part.come()).toBe('here');
    expect(tries).toBe(2);
  });
});
