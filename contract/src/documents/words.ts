import * as v from 'valibot';

/** What a library calls a fault, in words for who sent it. */
function faultWords({
  type,
  expected,
  received,
  requirement,
}: v.BaseIssue<unknown> & { requirement?: unknown }): string {
  const limit = typeof requirement === 'number' ? requirement.toLocaleString('en') : String(requirement);
  switch (type) {
    case 'max_length':
      return `up to ${limit} can be taken, there are ${received}`;
    case 'min_length':
      return `at least ${limit} are needed, there are ${received}`;
    case 'max_value':
      return `it may be up to ${limit}, and is ${received}`;
    case 'min_value':
      return `it may be from ${limit} on, and is ${received}`;
    case 'integer':
      return `it has to be a whole number, and is ${received}`;
    case 'finite':
    case 'number':
      return `it has to be a number, and is ${received}`;
    case 'strict_object':
      return expected === 'never' ? `${received} is not known here` : missingOr(expected, received);
    default:
      return missingOr(expected, received);
  }
}

const missingOr = (expected: string | null, received: string): string =>
  received === 'undefined'
    ? 'it is missing'
    : `it has to be ${(expected ?? 'another thing').slice(0, 200)}, and is ${received.slice(0, 200)}`;

/** Faults are told in these words from now on, and the first of them ends the reading. */
export function useOwnWords(): void {
  // A few megabytes of faults would hold whoever reads them: the others are not looked for.
  v.setGlobalConfig({ abortEarly: true });
  v.setGlobalMessage((issue) => faultWords(issue));
}
