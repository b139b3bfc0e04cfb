import { type ChildProcess, fork } from 'node:child_process';
import type { Listen } from './discovery';
import type { FromFinder } from './finderMain';

/** A finder that ended is started again after so long. */
const AGAIN_MS = 5000;

/** Listens for announcements in a process of its own: whatever strangers send to everybody is read there, and never by the engine. */
export function processListen(
  file: string,
  interfaces: readonly string[],
  onTrouble: (error: unknown) => void,
): Listen {
  return (up, down) => {
    let closed = false;
    let child: ChildProcess | null = null;
    const start = (): void => {
      child = fork(file, [JSON.stringify(interfaces)], { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      child.on('message', (message: FromFinder) => {
        if ('up' in message) up(message.up);
        else if ('down' in message) down(message.down);
        else onTrouble(new Error(message.trouble));
      });
      child.on('error', onTrouble);
      child.on('exit', () => {
        if (!closed) setTimeout(() => closed || start(), AGAIN_MS).unref();
      });
    };
    start();
    return () => {
      closed = true;
      child?.kill('SIGTERM');
    };
  };
}
