// What the parts of the benchmark print, and how.
import { readFileSync, writeFileSync } from 'node:fs';
import { say } from '../lib/system.mjs';

export function percentile(values, share) {
  const sorted = [...values].sort((p, q) => p - q);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}

export function distribution(name, values) {
  const [median, p95, most] = [percentile(values, 0.5), percentile(values, 0.95), Math.max(...values)];
  say(
    `  ${name.padEnd(34)} median ${median.toFixed(0).padStart(5)} ms   95 % ${p95.toFixed(0).padStart(5)} ms   most ${most.toFixed(0).padStart(5)} ms   of ${values.length}`,
  );
}

/** The most memory a process had resident, in MB; threads are part of it. */
export function peakMemory(pid) {
  return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;
}

/** Has `peakMemory` begin anew. */
export function forgetPeak(pid) {
  writeFileSync(`/proc/${pid}/clear_refs`, '5');
}

/** Share of the machine's time that others had: figures of a run with much of it say little. */
export function stolenTime() {
  const [user, nice, system, idle, wait, irq, soft, steal] = readFileSync('/proc/stat', 'utf8')
    .split('\n')[0]
    .trim()
    .split(/\s+/)
    .slice(1)
    .map(Number);
  return { steal, busy: user + nice + system + irq + soft + steal, all: idle + wait };
}

export async function saySteal(work) {
  const before = stolenTime();
  await work();
  const after = stolenTime();
  const share = (after.steal - before.steal) / Math.max(1, after.busy - before.busy);
  say(`  (of the processor time asked for, ${(100 * share).toFixed(0)} % went to others)`);
}
