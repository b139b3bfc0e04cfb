import type { DeviceCommand } from '../devices/index';

/** Moves that go on until they are told to end, by device, with what ends them: whoever began them owes that. */
export class DriveLedger {
  private readonly open = new Map<string, DeviceCommand>();

  /** @param onBegan told before a move of a device begins, so that another hand on it can be let go first */
  constructor(private readonly onBegan: (device: string) => void = () => undefined) {}

  began(device: string, end: DeviceCommand): void {
    this.onBegan(device);
    this.open.set(device, end);
  }

  has(device: string): boolean {
    return this.open.has(device);
  }

  /** A command that may be what ends the move. */
  sent(device: string, command: string): void {
    if (this.open.size > 0 && this.open.get(device)?.command === command) this.open.delete(device);
  }

  /** What is still owed; from here on somebody else owes it. */
  drain(): [device: string, end: DeviceCommand][] {
    const owed = [...this.open];
    this.open.clear();
    return owed;
  }
}
