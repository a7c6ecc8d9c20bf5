// What is to be done in the yard, and what it costs.
const RATES = { hull: 40, engine: 65, paint: 25 };
const jobs = [];

export function costOf(job) {
  const rate = RATES[job.work];
  return rate.valueOf() * job.hours;
}

export function openJob({ ferry, work, hours }) {
  const job = { id: jobs.length + 1, ferry, work, hours, done: false };
  jobs.push(job);
  return { ...summaryOf(job), waiting: jobs.filter((other) => !other.done).length };
}

export function summaryOf(job) {
  return { id: job.id, ferry: job.ferry, cost: costOf(job), hours: job.hours };
}

export function listJobs() {
  return jobs.map(summaryOf);
}

export function finish(id) {
  const job = jobs.find((one) => one.id === id);
  job.done = true;
  return summaryOf(job);
}
