import type { DeviceCommand } from '../devices/index';

/** Moves that go on until they are told to end, by device, with what ends them: whoever began them owes that. */
export class DriveLedger {
  private readonly open = new Map<string, DeviceCommand>();

  began(device: string, end: DeviceCommand): void {
    this.open.set(device, end);
  }

  /** A command that may be what ends the move. */
  sent(device: string, command: string): void {
    if (this.open.size > 0 && this.open.get(device)?.command === command) this.open.delete(device);
  }

  /** What is still owed; from here on somebody else owes it. */
  take(): [device: string, end: DeviceCommand][] {
    const owed = [...this.open];
    this.open.clear();
    return owed;
  }
}
