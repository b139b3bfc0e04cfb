import { corvaneHill } from '@umbek/demo';
import { hostFault, portFault } from './address';
import { keyFrom } from '@umbek/core/programming';

const show = corvaneHill();

describe('an address', () => {
  it('is told what is wrong with it', () => {
    expect([hostFault('127.0.0.1'), hostFault('cam-1.local')]).toEqual([null, null]);
    expect([hostFault(''), hostFault('1.2.3'), hostFault('1.2.3.400'), hostFault('a b')]).toEqual([
      'Give an address, such as 127.0.0.1.',
      'An IP address has four numbers with dots between.',
      'Each number of an IP address is at most 255.',
      'An address holds letters, digits, dots and hyphens.',
    ]);
    expect(portFault('0', '127.0.0.1', show, null)).toBe('A port is a whole number from 1 to 65535.');
    expect(portFault('7001', '127.0.0.1', show, 'captions')).toBe(
      'Switcher is at 127.0.0.1:7001 already. Give this one another port.',
    );
    expect(portFault('7001', '127.0.0.1', show, 'switcher')).toBeNull();
  });
});

describe('a key', () => {
  it("comes from the name, and is nobody else's", () => {
    expect(keyFrom('Gate cam 2', new Set(), 'head')).toBe('gateCam2');
    expect(keyFrom('Desk cam', new Set(['deskCam', 'deskCam2']), 'head')).toBe('deskCam3');
    expect(keyFrom('שלום', new Set(), 'head')).toBe('head');
    expect(keyFrom('value', new Set(), 'head')).toBe('value2');
  });
});
