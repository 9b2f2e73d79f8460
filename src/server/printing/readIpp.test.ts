import { describe, expect, it, test } from '@jest/globals';
import ipp from 'ipp';
import { GROUP, IppDamage, readIpp } from './readIpp';

/** An answer as another implementation of IPP writes it. */
function answer(): Uint8Array {
  return ipp.serialize({
    version: '1.1',
    statusCode: 'successful-ok',
    id: 7,
    'operation-attributes-tag': {
      'attributes-charset': 'utf-8',
      'attributes-natural-language': 'en-us',
      'status-message': 'fine',
    },
    'printer-attributes-tag': {
      'printer-name': 'Pier printer',
      'printer-resolution-supported': [[720, 720, 'dpi']],
      'document-format-supported': ['image/tiff', 'application/pdf'],
      'printer-is-accepting-jobs': true,
      'printer-state-reasons': ['none'],
      'queued-job-count': 3,
    },
  } as unknown as Parameters<typeof ipp.serialize>[0]);
}

test('reads what another implementation writes', () => {
  const { status, groups } = readIpp(answer());
  expect(status).toBe(0);
  expect(groups.get(GROUP.operation)!.get('status-message')).toEqual(['fine']);
  const printer = groups.get(GROUP.printer)!;
  expect(printer.get('printer-name')).toEqual(['Pier printer']);
  expect(printer.get('printer-resolution-supported')).toEqual([{ across: 720, feed: 720, unit: 3 }]);
  expect(printer.get('document-format-supported')).toEqual(['image/tiff', 'application/pdf']);
  expect(printer.get('printer-is-accepting-jobs')).toEqual([true]);
  expect(printer.get('queued-job-count')).toEqual([3]);
});

test('passes collections over and reads a text with its language (RFC 8010, 3.1.6 and 3.9)', () => {
  const attribute = (tag: number, name: string, value: Buffer) => {
    const head = Buffer.alloc(5 + name.length);
    head[0] = tag;
    head.writeUInt16BE(name.length, 1);
    head.write(name, 3, 'latin1');
    head.writeUInt16BE(value.length, 3 + name.length);
    return Buffer.concat([head, value]);
  };
  const bytes = Buffer.concat([
    Buffer.from([1, 1, 4, 6, 0, 0, 0, 1, 2]),
    attribute(0x34, 'media-col', Buffer.alloc(0)),
    attribute(0x4a, '', Buffer.from('media-size')),
    attribute(0x21, '', Buffer.from([0, 0, 1, 0])),
    attribute(0x37, '', Buffer.alloc(0)),
    attribute(0x35, 'job-state-message', Buffer.from([0, 2, 0x64, 0x65, 0, 3, 0x61, 0x62, 0x63])),
    Buffer.from([3]),
  ]);
  const { status, groups } = readIpp(bytes);
  expect(status).toBe(0x0406);
  expect([...groups.get(GROUP.job)!]).toEqual([['job-state-message', ['abc']]]);
});

describe('what is damaged ends in a message', () => {
  it('at whatever byte it is cut off', () => {
    const whole = answer();
    for (let length = 0; length < whole.length - 1; length++) {
      expect(() => readIpp(whole.subarray(0, length))).toThrow();
    }
  });

  it('whatever byte of it is another one: read or refused, and at once', () => {
    const whole = answer();
    for (let at = 0; at < whole.length; at++) {
      for (const flip of [0x01, 0x80, 0xff]) {
        const bytes = Uint8Array.from(whole);
        bytes[at]! ^= flip;
        try {
          readIpp(bytes);
        } catch (thrown) {
          expect(thrown).toBeInstanceOf(IppDamage);
        }
      }
    }
  });

  it('with a length that reaches beyond the answer', () => {
    const bytes = Uint8Array.from([1, 1, 0, 0, 0, 0, 0, 1, 4, 0x41, 0xff, 0xff, 0x61]);
    expect(() => readIpp(bytes)).toThrow('ends early');
  });

  it('with collections in collections without end', () => {
    const one = [0x34, 0, 1, 0x61, 0, 0];
    const bytes = Uint8Array.from([
      1,
      1,
      0,
      0,
      0,
      0,
      0,
      1,
      4,
      ...Array.from({ length: 400 }, () => one).flat(),
      3,
    ]);
    expect(() => readIpp(bytes)).toThrow('nested too deep');
  });

  it('of another protocol', () => {
    expect(() => readIpp(Buffer.from('HTTP/1.1 200 OK'))).toThrow('another protocol');
  });
});
