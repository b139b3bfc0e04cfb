import { DEVICE_KINDS, recorder } from '@umbek/core/devices';
import { HttpDriver } from '../drivers/httpDriver';
import type { Link, LinkDependencies } from './link';

const KEPT_CHARACTERS = 4000;

/** Requests and an event stream over HTTP to one address. */
export function openHttpLink({ network, device, flush, idPrefix, messages, context, inTurn }: LinkDependencies): Link {
  const http = network.http(device);
  const keep = (text: string, out: boolean): void => messages.keep(Buffer.from(text), out);
  const driver = new HttpDriver(
    DEVICE_KINDS[device.kind] ?? recorder,
    {
      ...context,
      ask: ({ method, path, body, limitMs }, then) => {
        flush();
        const text = body === undefined ? undefined : JSON.stringify(body);
        http.ask(
          {
            method,
            path,
            limitMs,
            ...(text === undefined ? {} : { body: text, headers: { 'content-type': 'application/json' } }),
          },
          (reply) => {
            if ('status' in reply) keep(`${path} ${reply.status} ${reply.text.slice(0, KEPT_CHARACTERS)}`, false);
            inTurn(() => then('status' in reply ? { status: reply.status, body: parsed(reply.text) } : reply));
          },
        );
        keep(`${method} ${path} ${text ?? ''}`, true);
      },
      listen: (path, events) =>
        http.listen(path, {
          opened: () => inTurn(() => events.opened()),
          event: (data) => {
            keep(`event ${data.slice(0, KEPT_CHARACTERS)}`, false);
            inTurn(() => events.event(data));
          },
          ended: (why) => inTurn(() => events.ended(why)),
        }),
    },
    idPrefix,
  );
  driver.open();
  return {
    driver,
    close: () => {
      driver.close();
      http.close();
    },
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
