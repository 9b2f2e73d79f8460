import { expect, it, describe } from '@jest/globals';
import { type Caller, assertAllowed, isLoopback } from './door';

const own: Caller = { method: 'GET', host: '127.0.0.1:4180', origin: null, site: null, peer: '127.0.0.1' };

describe('lets in', () => {
  it.each<[string, Partial<Caller>]>([
    ['a page of this machine', {}],
    ['by another of its names', { host: 'localhost:4180' }],
    ['by IPv6', { host: '[::1]:4180', peer: '::1' }],
    ['an IPv4 peer on an IPv6 socket', { peer: '::ffff:127.0.0.1' }],
    ['a change from its own page', { method: 'POST', origin: 'http://127.0.0.1:4180', site: 'same-origin' }],
    ['a change from a command line', { method: 'PUT' }],
    ['a link from elsewhere', { site: 'cross-site' }],
  ])('%s', (_, change) => {
    expect(() => assertAllowed({ ...own, ...change })).not.toThrow();
  });
});

describe('refuses', () => {
  it.each<[string, Partial<Caller>]>([
    ['a name that somebody pointed here', { host: 'evil.example' }],
    ['a name that only begins like ours', { host: '127.0.0.1.evil.example' }],
    ['a name with ours as its user', { host: 'localhost@evil.example' }],
    ['no name', { host: null }],
    ['another machine', { peer: '192.0.2.7' }],
    ['another machine that gives our name', { peer: '::ffff:192.0.2.7', host: 'localhost' }],
    ['a change from a page elsewhere', { method: 'POST', origin: 'http://evil.example' }],
    ['a change from another port', { method: 'DELETE', origin: 'http://127.0.0.1:9999' }],
    ['a change from nowhere', { method: 'POST', origin: 'null' }],
    ['a change that the browser calls foreign', { method: 'PATCH', site: 'cross-site' }],
  ])('%s', (_, change) => {
    expect(() => assertAllowed({ ...own, ...change })).toThrow(/this machine|another site/);
  });
});

it('knows which addresses only this machine reaches', () => {
  expect(['127.0.0.1', '::1', 'localhost', '127.1.2.3'].map(isLoopback)).toEqual([true, true, true, true]);
  expect(['0.0.0.0', '::', '192.168.1.5', 'example.com'].map(isLoopback)).toEqual([
    false,
    false,
    false,
    false,
  ]);
});
