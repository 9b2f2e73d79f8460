import type { NextConfig } from 'next';
import { solverHash } from './scripts/lib/solverHash.mjs';

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
