export interface Call {
  from: string;
  words: string;
  channel: number;
}

type Listener = (call: Call) => void;

export class CallLog {
  private calls: Call[] = [];
  private listeners: Listener[] = [];

  onCall(listener: Listener): void {
    this.listeners.push(listener);
  }

  add(call: Call): void {
    this.calls.push(call);
    this.listeners.forEach((listener) => listener(call));
  }

  last(count: number): Call[] {
    return this.calls.slice(-count);
  }

  byShip(): Record<string, Call[]> {
    const ships: Record<string, Call[]> = {};
    for (const call of this.calls) {
      (ships[call.from] ??= []).push(call);
    }
    return ships;
  }
}
