// npm run space: what takes how much of the demo's database (or of KERAMEUS_DATABASE_URL), and how long what is kept; with -- --tidy it is tidied up now.
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { Advice, root, runNode } from './lib/system.mjs';

try {
  const file = path.join(root, '.local/database-url');
  const url = process.env.KERAMEUS_DATABASE_URL ?? (existsSync(file) ? readFileSync(file, 'utf8') : null);
  if (!url) throw new Advice('There is no database yet: run npm run demo, or set KERAMEUS_DATABASE_URL.');
  runNode(['dist/space.mjs', ...process.argv.slice(2)], { ...process.env, KERAMEUS_DATABASE_URL: url });
} catch (error) {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
  process.exitCode = 1;
}
