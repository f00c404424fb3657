import { pictureIn, type Value } from '../../../core/src/columns/index.ts';
import { pictureAt } from '../data/addresses.ts';

/** What stands in a cell of a list; a picture is shown as one. */
export function CellText({ text, value }: { readonly text: string; readonly value: Value }) {
  const picture = value?.kind === 'text' ? pictureIn(value.text) : null;
  return picture === null ? text : <img className="cellpicture" src={pictureAt(picture)} alt={text} />;
}
