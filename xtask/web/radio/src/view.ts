import type { Call } from './log';
import type { Dial } from './channel';

export function drawChannels(list: HTMLElement, dial: Dial): void {
  list.replaceChildren(
    ...dial.numbers().map((number) => {
      const item = document.createElement('li');
      item.dataset.number = String(number);
      item.textContent = `channel ${number}`;
      return item;
    }),
  );
}

export function light(list: HTMLElement, number: number): void {
  list.querySelector<HTMLElement>(`[data-number="${number}"]`)!.classList.add('tuned');
}

export function drawCall(section: HTMLElement, call: Call): void {
  const line = document.createElement('p');
  line.textContent = `${call.channel} ${call.from.toUpperCase()}: ${call.words}`;
  section.append(line);
}

export function fact(list: HTMLElement, name: string, value: string): void {
  const [term, detail] = [document.createElement('dt'), document.createElement('dd')];
  term.textContent = name;
  detail.textContent = value;
  list.append(term, detail);
}
