import { expect, test } from 'vitest';
import { sessionOf } from './session.ts';

/** A window with a store: opened, reloaded, closed, or duplicated by the browser. */
function openWindow(copied = new Map<string, string>()) {
  const store = new Map(copied);
  const listeners = new Map<string, () => void>();
  const storage = {
    getItem: (key: string) => store.get(key) ?? null,
    setItem: (key: string, value: string) => void store.set(key, value),
    removeItem: (key: string) => void store.delete(key),
  };
  const listen = { addEventListener: (name: string, on: () => void) => void listeners.set(name, on) } as never;
  let next = 0;
  const load = () => sessionOf(storage, listen, () => `${copied.size > 0 ? 'copy' : 'first'}-${++next}`);
  return { store, load, hide: () => listeners.get('pagehide')!(), show: () => listeners.get('pageshow')!() };
}

test('a window that is loaded again keeps its name', () => {
  const window = openWindow();
  const id = window.load();
  window.hide();
  expect(window.load()).toBe(id);
});

test('a duplicated window has a name of its own, and keeps that one', () => {
  const window = openWindow();
  const id = window.load();
  const twin = openWindow(window.store);
  const other = twin.load();
  expect(other).not.toBe(id);
  twin.hide();
  expect(twin.load()).toBe(other);
  window.hide();
  expect(window.load()).toBe(id);
});

test('a page that the browser brings back is as open as before', () => {
  const window = openWindow();
  const id = window.load();
  window.hide();
  window.show();
  expect(openWindow(window.store).load()).not.toBe(id);
});
