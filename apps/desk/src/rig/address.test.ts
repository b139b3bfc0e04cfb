import { corvaneHill } from '@umbek/core/demo';
import { hostFault, portFault } from './address';
import { keyFrom } from './keys';

describe('an address', () => {
  it('is a name or four numbers', () => {
    expect(['127.0.0.1', 'desk-cam.local', 'fe80::1', ' 10.0.0.7 '].map(hostFault)).toEqual([null, null, null, null]);
    expect([hostFault(''), hostFault('10.0.0'), hostFault('10.0.0.256'), hostFault('desk cam')]).toEqual([
      'Give an address, such as 127.0.0.1.',
      'An IP address has four numbers with dots between.',
      'Each number of an IP address is at most 255.',
      'An address holds letters, digits, dots and hyphens.',
    ]);
  });

  it('has a port that no other device of the show is at', () => {
    const show = corvaneHill();
    expect([
      portFault('7999', '127.0.0.1', show, null),
      portFault('7001', '127.0.0.1', show, 'switcher'),
      portFault('7001', '10.0.0.7', show, null),
    ]).toEqual([null, null, null]);
    expect([
      portFault('0', '127.0.0.1', show, null),
      portFault('70000', '127.0.0.1', show, null),
      portFault('7.5', '127.0.0.1', show, null),
    ]).toEqual(Array.from({ length: 3 }, () => 'A port is a whole number from 1 to 65535.'));
    expect(portFault('7001', '127.0.0.1', show, null)).toBe(
      'Switcher is at 127.0.0.1:7001 already. Give this one another port.',
    );
  });
});

describe('a key made from a name', () => {
  it('is letters and digits, and nobody else has it', () => {
    expect([
      keyFrom('Desk cam', new Set(), 'device'),
      keyFrom('Lucía Ferrán', new Set(), 'person'),
      keyFrom('3rd light', new Set(), 'device'),
    ]).toEqual(['deskCam', 'luciaFerran', 'device']);
    expect(keyFrom('Desk cam', new Set(['deskCam', 'deskCam2']), 'device')).toBe('deskCam3');
  });

  it('is none of the words that expressions keep for themselves', () => {
    expect(keyFrom('Value', new Set(), 'device')).toBe('value2');
  });
});
