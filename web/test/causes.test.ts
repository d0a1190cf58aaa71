import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { isStorageFull, reasonOf, sentenceOf } from '../src/app/model/causes';

describe('what went wrong', () => {
  beforeEach(() => void vi.spyOn(console, 'info').mockImplementation(() => undefined));
  afterEach(() => void vi.restoreAllMocks());

  const named = (name: string, message: string): Error => Object.assign(new Error(message), { name });

  it('is said in our own words where a browser or a library says it, and the cause goes to the console', () => {
    for (const [error, words] of [
      [new TypeError('t.slice is not a function'), 'Hazy Lens made an error'],
      [
        named('MissingAPIError', 'IndexedDB API missing. Visit https://tinyurl.com/y2uuvskb'),
        'this browser lets Hazy Lens keep nothing',
      ],
      [
        Object.assign(named('DatabaseClosedError', ''), { inner: named('MissingAPIError', '') }),
        'this browser lets Hazy Lens keep nothing',
      ],
      [named('AbortError', 'Transaction aborted'), 'it was stopped'],
      [
        Object.assign(named('AbortError', 'aborted'), { inner: named('QuotaExceededError', '') }),
        'the disk, or the browser’s share of it, is full',
      ],
      [new RangeError('Array buffer allocation failed'), 'there isn’t enough memory'],
      [new RangeError('WebAssembly.Memory(): couldn’t allocate memory'), 'there isn’t enough memory'],
      [
        new DOMException('A requested file or directory couldn’t be found', 'NotFoundError'),
        'the file is no longer where it was, or may not be read',
      ],
      [new Error(''), 'Hazy Lens made an error'],
      [null, 'Hazy Lens made an error'],
    ] as const)
      // prettier-ignore
      expect(reasonOf(error), String(error)).toBe(words);
    expect(console.info).toHaveBeenCalledTimes(10);
  });

  it('is what our own errors say, as a part of a sentence or as one', () => {
    expect(reasonOf(new Error('“a.png” is empty.'))).toBe('“a.png” is empty');
    expect(sentenceOf(new Error('“a.png” is empty.'))).toBe('“a.png” is empty.');
    expect(sentenceOf(new RangeError('there are 3 frames'))).toBe('There are 3 frames.');
    expect(sentenceOf(new Error('Is it there?'))).toBe('Is it there?');
    expect(console.info).not.toHaveBeenCalled();
  });

  it('may be that there is no room', () => {
    expect(isStorageFull(named('QuotaExceededError', ''))).toBe(true);
    expect(isStorageFull({ inner: named('QuotaExceededError', '') })).toBe(true);
    expect(isStorageFull(new Error('full'))).toBe(false);
    expect(isStorageFull(null)).toBe(false);
  });
});
