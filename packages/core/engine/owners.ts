import type { Task } from './task';

/** What waits may wait in a row, but not without end. */
const MOST_ROUNDS = 100;

/** Which part of which run holds a device. A later one takes it; a part that stands inside the holder shares it. */
export class Owners {
  private readonly holders = new Map<string, Task[]>();

  constructor(private readonly end: (task: Task, why: string) => void) {}

  claim(device: string, task: Task, name: string): void {
    // Ending one may begin what waited for its end, and that may take the device too: the one that takes now goes before it.
    for (let round = 0; round < MOST_ROUNDS; round += 1) {
      const present = this.holders.get(device) ?? [];
      const rivals = present.filter((holder) => !task.isWithin(holder));
      if (rivals.length === 0) break;
      this.holders.set(
        device,
        present.filter((holder) => !rivals.includes(holder)),
      );
      for (const rival of rivals) this.end(rival, `${name} took ${device}.`);
    }
    if (task.over) return;
    this.holders.set(device, [...(this.holders.get(device) ?? []), task]);
    const before = task.onOver;
    task.onOver = () => {
      before?.();
      this.release(device, task);
    };
  }

  private release(device: string, task: Task): void {
    const left = (this.holders.get(device) ?? []).filter((holder) => holder !== task);
    if (left.length > 0) this.holders.set(device, left);
    else this.holders.delete(device);
  }
}
