import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { root } from './system.mjs';

/** Names the code that tables of tones come from: who keeps tables must not take those that other code solved. */
export function solverHash() {
  const hash = createHash('sha256');
  for (const folder of ['src/core/solving', 'src/core/colour']) {
    const place = path.join(root, folder);
    for (const name of readdirSync(place).sort()) hash.update(readFileSync(path.join(place, name)));
  }
  return hash.digest('hex').slice(0, 16);
}
