// npm run licences: lists in docs/LICENCES.md what ships with the application and under which licence. With --check it only tells whether the list is right.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './lib/system.mjs';

const target = path.join(root, 'docs/LICENCES.md');
const { packages } = JSON.parse(readFileSync(path.join(root, 'package-lock.json'), 'utf8'));

/** Packages that are installed without those for development, each by its own file: the lock file does not always tell a licence. */
const shipped = Object.entries(packages)
  .filter(
    ([place, entry]) =>
      place.startsWith('node_modules/') && !entry.dev && !entry.devOptional && !entry.optional,
  )
  .map(([place, entry]) => {
    const file = path.join(root, place, 'package.json');
    const own = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {};
    const licence = own.license ?? entry.license ?? own.licenses?.map(({ type }) => type).join(' or ');
    return {
      name: place.replace(/^.*node_modules\//, ''),
      version: entry.version,
      licence: typeof licence === 'object' ? licence.type : (licence ?? 'not stated'),
    };
  });
const unique = [...new Map(shipped.map((each) => [`${each.name} ${each.version}`, each])).values()];
unique.sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.version < b.version ? -1 : 1));

const lines = [
  '# What ships with Kerameus',
  '',
  'Made by `npm run licences` from what is installed to run the application. Parts for single kinds of machines (image decoding: libvips and what it is built with, LGPL-3.0-or-later, used',
  'as a library of its own) come with the packages that name them.',
  '',
  '| package | version | licence |',
  '| --- | --- | --- |',
  ...unique.map(({ name, version, licence }) => `| ${name} | ${version} | ${licence} |`),
  '',
].join('\n');

if (process.argv.includes('--check')) {
  const right = existsSync(target) && readFileSync(target, 'utf8') === lines;
  if (!right) process.stderr.write('docs/LICENCES.md is not what npm run licences makes.\n');
  process.exitCode = right ? 0 : 1;
} else {
  writeFileSync(target, lines);
  process.stdout.write(`${unique.length} packages are listed in docs/LICENCES.md.\n`);
}
