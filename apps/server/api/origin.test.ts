import { sameOrigin } from '../serve';

const asked = (headers: Record<string, string>, listensOn = '127.0.0.1') => sameOrigin({ headers }, listensOn);

describe('who may cause work', () => {
  it.each([
    [
      'this page itself',
      { host: '127.0.0.1:4400', origin: 'http://127.0.0.1:4400', 'sec-fetch-site': 'same-origin' },
      true,
    ],
    ['an address that somebody typed', { host: 'localhost:4400', 'sec-fetch-site': 'none' }, true],
    ['a program that is no browser', { host: '127.0.0.1:4400' }, true],
    ['another page, by a form or a script', { host: '127.0.0.1:4400', origin: 'http://elsewhere.example' }, false],
    [
      'another page that fetches without an origin, such as a picture or a link',
      { host: '127.0.0.1:4400', 'sec-fetch-site': 'cross-site' },
      false,
    ],
    [
      'another port of this machine',
      { host: '127.0.0.1:4400', origin: 'http://127.0.0.1:8000', 'sec-fetch-site': 'same-site' },
      false,
    ],
    ['a page without an origin of its own', { host: '127.0.0.1:4400', origin: 'null' }, false],
    [
      'a name that somebody points at this machine',
      { host: 'rebound.example:4400', origin: 'http://rebound.example:4400' },
      false,
    ],
  ])('%s', (_name, headers, allowed) => {
    expect(asked(headers as unknown as Record<string, string>)).toBe(allowed);
  });

  it('beyond loopback the origin must be the host, and a host must be given', () => {
    expect(asked({ host: '10.0.0.5:4400', origin: 'http://10.0.0.5:4400' }, '0.0.0.0')).toBe(true);
    expect(asked({ host: '10.0.0.5:4400', origin: 'http://10.0.0.6:4400' }, '0.0.0.0')).toBe(false);
    expect(asked({ host: '10.0.0.5:4400', 'sec-fetch-site': 'cross-site' }, '0.0.0.0')).toBe(false);
    expect(asked({}, '0.0.0.0')).toBe(false);
  });
});
