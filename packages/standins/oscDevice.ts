import type { DeviceKind, Points } from '@umbek/core/devices';
import {
  decodeOsc,
  type DeviceMessage,
  encodeDeviceMessage,
  encodeOsc,
  type Request,
  requestOf,
} from '@umbek/wire/osc';
import { ModelDevice } from './modelDevice';
import type { Sender, StandinDevice, StandinOptions, StandinReport } from './port';

const SUBSCRIPTION_MS = 5000;
const ANSWERS_KEPT = 5000;

/**
 * Any kind of device behind OSC with request ids. The arguments of a command are its parameters in the order of their declaration.
 * Each request id of a sender is carried out once; the same id again gets the same answer.
 */
export class OscStandin implements StandinDevice {
  private readonly device: ModelDevice;
  /** Answers by `sender/id`; null while the command is under way. */
  private readonly answers = new Map<string, DeviceMessage | null>();
  private readonly subscribers = new Map<Sender, number>();
  private number = 0;

  constructor(
    private readonly kind: DeviceKind,
    settings: unknown,
    private readonly options: StandinOptions,
  ) {
    this.device = new ModelDevice(kind, settings, options.clock, (changes) => this.publish(changes));
  }

  receive(bytes: Uint8Array, from: Sender): void {
    const messages = decodeOsc(bytes);
    if (!messages.ok) {
      this.device.malformed += 1;
      return;
    }
    for (const message of messages.value) {
      const request = requestOf(message, this.kind.key);
      if (request === undefined) this.device.malformed += 1;
      else this.serve(request, from);
    }
  }

  report(): StandinReport {
    return this.device.report();
  }

  simulate(what: string): string | null {
    return this.device.simulate(what);
  }

  private serve(request: Request, from: Sender): void {
    const { clock } = this.options;
    if (request.verb === 'ping') {
      this.subscribers.set(from, clock.now() + SUBSCRIPTION_MS);
      return this.say(from, [{ kind: 'pong', id: request.id, number: this.number }]);
    }
    if (request.verb === 'read') {
      const states = Object.entries(this.device.points).map(([point, value]) => ({
        kind: 'state' as const,
        point,
        number: this.number,
        value,
      }));
      return this.say(from, [...states, { kind: 'ok', id: request.id }]);
    }
    const key = `${from}/${request.id}`;
    const known = this.answers.get(key);
    if (known !== undefined) {
      if (known !== null) this.say(from, [known]);
      return;
    }
    this.keep(key, null);
    const refuse = (why: string): void => {
      const answer: DeviceMessage = { kind: 'refused', id: request.id, why };
      this.keep(key, answer);
      this.say(from, [answer]);
    };
    const definition = this.kind.commands[request.verb];
    if (definition === undefined) return refuse(`There is no command ${request.verb}.`);
    if (this.options.refusing()) return refuse('Refused, as it was told to.');
    const names = Object.keys(definition.params.shape);
    if (request.values.length !== names.length)
      return refuse(`${request.verb} takes ${names.length} arguments after the request id.`);
    const params = Object.fromEntries(names.map((name, index) => [name, request.values[index] ?? '']));
    this.device.command({ command: request.verb, params }, from, request.id, (reply) => {
      if (reply.event === 'accepted') return;
      const answer: DeviceMessage =
        reply.event === 'done'
          ? { kind: 'ok', id: request.id }
          : { kind: 'refused', id: request.id, why: reply.why ?? 'Refused.' };
      this.keep(key, answer);
      this.say(from, [answer]);
    });
  }

  /** Tells subscribers every point that changed, each under a number of its own. */
  private publish(changes: Points): void {
    const states = Object.entries(changes).map(([point, value]) => ({
      kind: 'state' as const,
      point,
      number: (this.number += 1),
      value,
    }));
    const now = this.options.clock.now();
    for (const [subscriber, until] of this.subscribers) {
      if (until < now) this.subscribers.delete(subscriber);
      else this.say(subscriber, states);
    }
  }

  private say(to: Sender, messages: readonly DeviceMessage[]): void {
    this.options.send(encodeOsc(messages.map((message) => encodeDeviceMessage(this.kind.key, message))), to);
  }

  private keep(key: string, answer: DeviceMessage | null): void {
    this.answers.set(key, answer);
    const oldest = this.answers.keys().next();
    if (this.answers.size > ANSWERS_KEPT && !oldest.done) this.answers.delete(oldest.value);
  }
}
