import { KerameusError } from '@/core/units';

/** What of a request decides whether it is let in. */
export interface Caller {
  readonly method: string;
  readonly host: string | null;
  readonly origin: string | null;
  /** The browser's own word for where the request comes from (`sec-fetch-site`). */
  readonly site: string | null;
  /** The address at the other end; null where it is not known. */
  readonly peer: string | null;
}

const LOOPBACK_HOST = /^(localhost|127\.\d{1,3}\.\d{1,3}\.\d{1,3}|\[::1\])(:\d{1,5})?$/i;
const LOOPBACK_PEER = /^(127\.\d{1,3}\.\d{1,3}\.\d{1,3}|::1|::ffff:127\.\d{1,3}\.\d{1,3}\.\d{1,3})$/;

/** Whether an address to listen on can be reached from this machine only. */
export function isLoopback(address: string): boolean {
  return address === 'localhost' || LOOPBACK_PEER.test(address);
}

/**
 * Lets in what comes from this machine, under a name of this machine, and for changes from a page of this server. A page elsewhere could otherwise read
 * jobs by having its own name point here. Throws KerameusError `other-host` or `other-origin`.
 */
export function assertAllowed({ method, host, origin, site, peer }: Caller): void {
  if ((peer !== null && !LOOPBACK_PEER.test(peer)) || !LOOPBACK_HOST.test(host ?? '')) {
    throw new KerameusError({
      code: 'other-host',
      message: 'This server answers on this machine only, under its address on this machine.',
      remedy: 'Open the address that the server printed when it started.',
    });
  }
  if (method === 'GET' || method === 'HEAD') return;
  const foreign =
    (origin !== null && originHost(origin) !== host) ||
    (site !== null && site !== 'same-origin' && site !== 'none');
  if (!foreign) return;
  throw new KerameusError({
    code: 'other-origin',
    message: 'This request came from another site and was refused.',
    remedy: 'Open the application at its own address.',
  });
}

function originHost(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
