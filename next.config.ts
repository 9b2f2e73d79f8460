import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import type { NextConfig } from 'next';

/** Names the code that tables of tones come from: browsers keep tables, and must not take those that other code solved. */
function solverHash(): string {
  const hash = createHash('sha256');
  for (const folder of ['src/core/solving', 'src/core/colour']) {
    for (const name of readdirSync(folder).sort()) hash.update(readFileSync(path.join(folder, name)));
  }
  return hash.digest('hex').slice(0, 16);
}

const config: NextConfig = {
  // Tests build beside a running demo, not over it.
  distDir: process.env.KERAMEUS_NEXT_DIR ?? '.next',
  serverExternalPackages: ['sharp', 'pg', 'pg-boss', 'pino', 'saxes'],
  env: { SOLVER_HASH: solverHash() },
  poweredByHeader: false,
  reactStrictMode: true,
  // The workspace redraws with every gesture: only what a gesture changes should.
  reactCompiler: true,
  // Types are a check of `npm test`; a build for running need not wait for it.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  async headers() {
    return [
      {
        source: '/(.*)',
        headers: [
          { key: 'x-content-type-options', value: 'nosniff' },
          { key: 'x-frame-options', value: 'DENY' },
          { key: 'referrer-policy', value: 'same-origin' },
          { key: 'cross-origin-resource-policy', value: 'same-origin' },
        ],
      },
    ];
  },
};

export default config;
