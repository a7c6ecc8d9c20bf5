export interface Watch {
  from: number;
  officer: string;
}

export async function watches(): Promise<Watch[]> {
  const answer = await fetch('/watch.json');
  const station = await answer.json();
  return station.watches;
}

export function onWatch(all: Watch[], hour: number): Watch {
  return all.filter((watch) => watch.from <= hour).at(-1)!;
}
