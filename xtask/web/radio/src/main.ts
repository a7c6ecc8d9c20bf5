import { dial } from './channel';
import { CallLog } from './log';
import { drawCall, drawChannels, fact, light } from './view';
import { onWatch, watches } from './watch';

const channels = document.querySelector<HTMLElement>('.channels')!;
const section = document.getElementById('log')!;
const facts = document.getElementById('facts')!;
const log = new CallLog();

drawChannels(channels, dial);
log.onCall((call) => drawCall(section, call));

function hear(from: string, words: string, channel: number): void {
  dial.tune(channel);
  light(channels, channel);
  log.add({ from, words, channel });
}

hear('Heron', 'leaving the quay', 12);
hear('Plover', 'passing the skerry', 72);
fact(facts, 'reach', dial.reach(36).toFixed(1));
fact(facts, 'ships', Object.keys(log.byShip()).join(', '));

const officer = onWatch(await watches(), new Date().getHours()).officer;
fact(facts, 'on watch', officer.toUpperCase());
