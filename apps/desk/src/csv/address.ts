import type { ShowDocument } from '@umbek/core/show';

/** What is wrong with a host name or address; null when it can be one. */
export function hostFault(host: string): string | null {
  const text = host.trim();
  if (text === '') return 'Give an address, such as 127.0.0.1.';
  if (text.length > 253 || !/^[A-Za-z0-9.:_-]+$/.test(text))
    return 'An address holds letters, digits, dots and hyphens.';
  if (/^[\d.]+$/.test(text) && !/^(\d{1,3}\.){3}\d{1,3}$/.test(text))
    return 'An IP address has four numbers with dots between.';
  if (/^[\d.]+$/.test(text) && text.split('.').some((part) => Number(part) > 255))
    return 'Each number of an IP address is at most 255.';
  return null;
}

/** What is wrong with a port: its range, or a device of the show that is there already. @param own key of the device that is edited */
export function portFault(port: string, host: string, document: ShowDocument, own: string | null): string | null {
  const number = Number(port);
  if (!/^\d+$/.test(port.trim()) || number < 1 || number > 65_535) return 'A port is a whole number from 1 to 65535.';
  const other = document.devices.find(
    (device) => device.key !== own && device.host === host.trim() && device.port === number,
  );
  return other ? `${other.name} is at ${host}:${number} already. Give this one another port.` : null;
}
