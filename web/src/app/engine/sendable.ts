import { threadsShareMemory } from '@hazy-lens/core';

const isPlain = (value: object): value is Record<string, unknown> =>
  Object.getPrototypeOf(value) === Object.prototype;

/** A view with memory of its own, where it is a part of more: all of that would be copied with it. */
function alone(view: ArrayBufferView): ArrayBufferView {
  if (view.byteLength === view.buffer.byteLength) return view;
  const Kind = view.constructor as new (of: ArrayBufferLike) => ArrayBufferView;
  return new Kind(view.buffer.slice(view.byteOffset, view.byteOffset + view.byteLength));
}

/** What is posted to a worker; where memory can’t be shared, without the memory around what it views. */
export function sendable<T>(value: T): T {
  return threadsShareMemory() ? value : (cut(value) as T);
}

function cut(value: unknown): unknown {
  if (ArrayBuffer.isView(value)) return alone(value);
  if (Array.isArray(value)) return replaced(value, value.map(cut));
  if (typeof value !== 'object' || value === null || !isPlain(value)) return value;
  const made = Object.fromEntries(Object.entries(value).map(([key, one]) => [key, cut(one)]));
  return Object.keys(made).some((key) => made[key] !== value[key]) ? made : value;
}

/** The list itself where nothing in it changed: what was said of it elsewhere stays true. */
const replaced = (list: readonly unknown[], made: readonly unknown[]): readonly unknown[] =>
  made.some((one, i) => one !== list[i]) ? made : list;
