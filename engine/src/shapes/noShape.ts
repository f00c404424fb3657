/** An error of another thread is known by its name alone. */
const NAME = 'NoShape';

/** What the geometry kernel says of a slice in which it finds nothing. */
export const noShape = (): Error =>
  Object.assign(new Error('the geometry kernel finds no solid or surface in it'), { name: NAME });
export const isNoShape = (error: unknown): error is Error => (error as { name?: string }).name === NAME;
