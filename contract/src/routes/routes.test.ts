import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { urlOf, routes, type Route } from './index.ts';
import { routesText } from './listed.ts';

const all: readonly Route[] = Object.values(routes).flatMap((subject) => Object.values(subject) as Route[]);

test('docs/routes.md is the table as it is now; else run `npm run routes`', () =>
  expect(readFileSync('docs/routes.md', 'utf8')).toBe(routesText()));

describe('the table of routes', () => {
  test('has every verb and path once', () => {
    const names = all.map(({ verb, path }) => `${verb} ${path.replace(/:\w+/g, ':')}`);
    expect(new Set(names).size).toBe(names.length);
    expect(names.length).toBeGreaterThan(60);
  });
  test('what only looks sends nothing, and takes nothing away', () => {
    for (const { verb, body, sends, needs } of all.filter(({ verb }) => verb === 'GET'))
      expect([verb, body, sends, needs]).toEqual(['GET', undefined, undefined, 'see']);
    for (const one of all.filter(({ verb }) => verb === 'DELETE' || verb === 'PUT')) expect(one.needs).toBe('change');
  });
  test('checked names are those of the path', () => {
    for (const { path, params } of all)
      if (params && 'entries' in params)
        expect(Object.keys(params.entries as object).sort()).toEqual(
          [...path.matchAll(/:(\w+)/g)].map(([, name]) => name).sort(),
        );
  });
  test('a path that fits two of a subject is answered by the one that says more', () => {
    for (const subject of Object.values(routes)) {
      const seen: Route[] = [];
      for (const one of Object.values(subject) as Route[]) {
        const fits = seen.filter(
          ({ verb, path }) =>
            verb === one.verb && new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}$`).test(one.path.replace(/:\w+/g, 'x')),
        );
        expect(fits.map(({ path }) => path)).toEqual([]);
        seen.push(one);
      }
    }
  });
});

describe('addresses', () => {
  test('leave out what is not said, and join lists', () =>
    expect(
      urlOf(routes.forms.filled, {
        params: { id: 'p', name: 'Parts & prices' },
        query: { bills: ['a', 'b'], supplier: undefined },
      }),
    ).toBe('/api/projects/p/forms/Parts%20%26%20prices/file?bills=a%2Cb'));
  test('whatever the names are, they come out as they went in', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), fc.string({ unit: 'grapheme' }), (name, session) => {
        const url = new URL(urlOf(routes.projects.load, { params: { id: name }, query: { session } }), 'http://x');
        expect(decodeURIComponent(url.pathname.split('/').at(-1)!)).toBe(name);
        expect(url.searchParams.get('session')).toBe(session);
      }),
    ));
  test('a query that was written is read again', () => {
    const { query } = routes.catalogues.versions;
    const url = new URL(urlOf(routes.catalogues.versions, { query: { ids: ['one', 'two'] } }), 'http://x');
    expect(v.parse(query, Object.fromEntries(url.searchParams))).toEqual({ ids: ['one', 'two'] });
  });
});
