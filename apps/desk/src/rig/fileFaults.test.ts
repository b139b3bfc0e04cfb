import { inTheFile, readJson } from './fileFaults';

const file = {
  document: { devices: [{ key: 'domeCam', name: 'Dome cam' }], buttons: [{ legend: 'Cut', steps: [{}] }] },
};
const faultAt = (path: string, message: string): string | undefined =>
  inTheFile({ path, message: `${path}: ${message}` }, file).message;

describe('a fault of a show file', () => {
  it('names the thing and what of it, and no path', () => {
    expect(faultAt('document.devices.0.port', 'Invalid input')).toBe('Device 1 (Dome cam), port: invalid input.');
    expect(faultAt('document.buttons.0.steps.0.timeoutMs', 'Too small.')).toBe(
      'Button 1 (Cut), steps, number 1, timeout ms: too small.',
    );
  });

  it('stays as it is where the file has no such thing', () => {
    expect(faultAt('document.devices.7.port', 'Invalid input')).toBe('document.devices.7.port: Invalid input');
  });

  it('is told before anything is sent when the file is no JSON', () => {
    expect([readJson('{"a":'), readJson('{"a":1}')]).toEqual([undefined, { a: 1 }]);
  });
});
