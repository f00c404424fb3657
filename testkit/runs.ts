/** Whether this is the long run (`npm run test:long`), which takes its time. */
const isLong = Boolean(process.env.SLEDGEBOARD_LONG);
/** So many cases in an ordinary run of the tests, and so many in the long one. */
export const runs = (ordinary: number, long: number): number => (isLong ? long : ordinary);
