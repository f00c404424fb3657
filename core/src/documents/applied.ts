/** A command that was carried out: the new document, and the command that takes it back. */
export interface Applied<Document, Command> {
  readonly ok: true;
  readonly document: Document;
  readonly inverse: Command;
}
/** A command that cannot be carried out, with a sentence that says why. */
export interface Refused {
  readonly ok: false;
  readonly reason: string;
}
export const refused = (reason: string): Refused => ({ ok: false, reason });
