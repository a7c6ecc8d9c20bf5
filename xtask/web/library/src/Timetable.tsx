import type { Boat } from './model';

interface Props {
  boats: Boat[];
  chosen: string;
  onChoose: (name: string) => void;
}

function minutesOf(time: string): number {
  const parts = time.split(':');
  return Number(parts[0]) * 60 + Number(parts[1]);
}

export function Timetable({ boats, chosen, onChoose }: Props) {
  const sorted = [...boats].sort((a, b) => minutesOf(a.leaves) - minutesOf(b.leaves));
  return (
    <ul>
      {sorted.map((boat) => (
        <li key={boat.name} onClick={() => onChoose(boat.name)}>
          {boat.name === chosen ? '> ' : ''}
          {boat.leaves} {boat.name}
        </li>
      ))}
    </ul>
  );
}
