const ISO = /^(\d{4})-(\d{2})-(\d{2})$/;
const DAY_FIRST = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/;

/** A day as it is written, 2026-03-05 or 5.3.2026, in the first of these ways; null where it is none. */
export function dateOf(text: string): string | null {
  const bare = text.trim();
  const iso = ISO.exec(bare),
    own = DAY_FIRST.exec(bare);
  const parts = iso ? ([iso[1], iso[2], iso[3]] as const) : own ? ([own[3], own[2], own[1]] as const) : null;
  if (!parts) return null;
  const [year, month, day] = parts;
  const written = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  const date = new Date(`${written}T00:00:00Z`);
  return Number.isNaN(date.getTime()) || date.toISOString().slice(0, 10) !== written ? null : written;
}
