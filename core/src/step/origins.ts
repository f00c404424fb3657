import { numberOf, refsOf, type StepFile } from '../exchange/index.ts';

/** Who designed something and when, where the file says it. */
export interface Origin {
  readonly author?: string;
  /** ISO 8601 date. */
  readonly created?: string;
}

/** Roles in the order in which they say best who made it. */
const AUTHOR_ROLES = ['creator', 'author', 'design_owner', 'designer', 'design owner'];
const PERSONS = ['APPLIED_PERSON_AND_ORGANIZATION_ASSIGNMENT', 'CC_DESIGN_PERSON_AND_ORGANIZATION_ASSIGNMENT'];
const DATES = ['APPLIED_DATE_AND_TIME_ASSIGNMENT', 'CC_DESIGN_DATE_AND_TIME_ASSIGNMENT', 'APPLIED_DATE_ASSIGNMENT'];

/**
 * By the slot that the assignment names: a product definition, a formation or a product. Source: ISO 10303-41
 * (person, organization, date).
 */
export function readOrigins(file: StepFile): ReadonlyMap<number, Origin> {
  const found = new Map<number, { author?: string; created?: string; rank: number }>();
  const at = (slot: number) => {
    const known = found.get(slot) ?? { rank: Infinity };
    found.set(slot, known);
    return known;
  };
  for (const keyword of PERSONS)
    for (const slot of file.ofType(keyword)) {
      const rank = AUTHOR_ROLES.indexOf(
        file
          .text(file.ref(slot, keyword, 1), 'PERSON_AND_ORGANIZATION_ROLE', 0)
          .trim()
          .toLowerCase(),
      );
      const author = personName(file, file.ref(slot, keyword, 0));
      if (rank < 0 || !author) continue;
      for (const target of refsOf(file.value(slot, keyword, 2))) {
        const known = at(target);
        if (rank < known.rank) Object.assign(known, { author, rank });
      }
    }
  for (const keyword of DATES)
    for (const slot of file.ofType(keyword)) {
      const role = file.ref(slot, keyword, 1);
      const word = file.text(role, 'DATE_TIME_ROLE', 0) || file.text(role, 'DATE_ROLE', 0);
      const created = /creat/i.test(word) ? dateText(file, file.ref(slot, keyword, 0)) : '';
      if (created) for (const target of refsOf(file.value(slot, keyword, 2))) at(target).created = created;
    }
  return found;
}

/** First and last name; else the organisation. */
function personName(file: StepFile, slot: number): string {
  const person = file.ref(slot, 'PERSON_AND_ORGANIZATION', 0),
    organization = file.ref(slot, 'PERSON_AND_ORGANIZATION', 1);
  const names = [file.text(person, 'PERSON', 2), file.text(person, 'PERSON', 1)]
    .map((name) => name.trim())
    .filter(Boolean)
    .join(' ');
  return names || file.text(organization, 'ORGANIZATION', 1).trim();
}

function dateText(file: StepFile, slot: number): string {
  const date = file.is(slot, 'DATE_AND_TIME') ? file.ref(slot, 'DATE_AND_TIME', 0) : slot;
  const [year, day, month] = [0, 1, 2].map((n) => numberOf(file.value(date, 'CALENDAR_DATE', n)));
  if (year === null || day === null || month === null || year < 1 || month < 1 || month > 12 || day < 1 || day > 31)
    return '';
  return `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}
