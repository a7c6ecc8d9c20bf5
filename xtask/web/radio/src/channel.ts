import listed from './channels.json';

export interface Channel {
  number: number;
  use: string;
  power: { high: number; low: number };
}

export class Dial {
  private readonly byNumber = new Map<number, Channel>();
  current: Channel | null = null;

  constructor(channels: Channel[]) {
    for (const channel of channels) {
      this.byNumber.set(channel.number, channel);
    }
  }

  tune(number: number): Channel {
    const found = this.byNumber.get(number)!;
    this.current = found;
    return found;
  }

  reach(height: number): number {
    return Math.sqrt(height) * this.current!.power.high / 5;
  }

  numbers(): number[] {
    return [...this.byNumber.keys()].sort((a, b) => a - b);
  }
}

export const dial = new Dial(listed);
