/**
 * Input that cannot be taken, with a sentence for the drafter: what, where, what to do.
 * Thrown inside a reader and caught at its door, so that nothing half-read gets out.
 */
export class Refusal extends Error {
  override readonly name = 'Refusal';
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}
