import type { Task } from './task';

/** Which part of which run holds a device. A later one takes it; a part that stands inside the holder shares it. */
export class Owners {
  private readonly holders = new Map<string, Task[]>();

  constructor(private readonly end: (task: Task, why: string) => void) {}

  take(device: string, task: Task, name: string): void {
    const present = this.holders.get(device) ?? [];
    const rivals = present.filter((holder) => !task.isWithin(holder));
    for (const rival of rivals) this.end(rival, `${name} took ${device}.`);
    const kept = (this.holders.get(device) ?? []).filter((holder) => !rivals.includes(holder));
    this.holders.set(device, [...kept, task]);
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
