/** What stands behind a name to tell one export from another: a revision, a date, a count, the word copy. */
const TAIL =
  /[\s_.\-–()[\]]+(rev(ision)?|v|ver(sion)?|copy|final|new|old)?[\s_.\-–]*([a-z]|\d{1,8}|\d{4}-\d{2}-\d{2})?[)\]]*$/i;

/** The name of a file without its ending and without what tells one export of a machine from the next. */
function stemOf(fileName: string): string {
  let stem = fileName.replace(/\.[a-z0-9]{1,5}$/i, '').toLowerCase();
  for (let times = 0; times < 3; times++) {
    const shorter = stem.replace(TAIL, '');
    if (shorter === stem || shorter.length < 3) break;
    stem = shorter;
  }
  return stem.replace(/[\s_.\-–]+/g, ' ').trim();
}

/** Whether two files are likely exports of one machine, by their names. */
export const namesAgree = (one: string, other: string): boolean => stemOf(one) !== '' && stemOf(one) === stemOf(other);
