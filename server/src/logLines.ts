import { pino } from 'pino';

/**
 * What the server writes for who looks after it: one line of JSON per happening, on standard error, at once, so that the last
 * words of a program that ends are there too.
 */
export const serverLog = pino(
  { base: null, timestamp: pino.stdTimeFunctions.isoTime, formatters: { level: (label) => ({ level: label }) } },
  pino.destination({ dest: 2, sync: true }),
);
