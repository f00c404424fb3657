// Pictures on a sheet: ECMA-376 part 1, 20.5 (drawings of spreadsheets).
import { CONTENT_TYPES, relationsPart, type FormSheet, type Workbook } from './workbook.ts';
import { putInOrder } from './insert.ts';
import { childrenOf, element, prefixOf, within, type XmlElement } from './xml.ts';

/** A picture in a cell. */
export interface CellPicture {
  /** From 1. */
  readonly row: number;
  readonly column: number;
  readonly png: Uint8Array;
}
/** English Metric Units to a pixel of 96 to the inch. */
const EMU = 9525;
/** Side of pictures in pixels; rows that hold them are a little higher. */
export const PICTURE_PX = 36;
const GAP_PX = 2;
const DRAWING = 'http://schemas.openxmlformats.org/drawingml/2006';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';

/** Puts pictures into cells of a sheet, beside those that are there. The same picture is stored once. */
export function putPictures(workbook: Workbook, sheet: FormSheet, pictures: readonly CellPicture[]): void {
  if (pictures.length === 0) return;
  const part = drawingOf(workbook, sheet);
  const drawing = workbook.tree(part);
  const stored = new Map<Uint8Array, string>();
  let number = Math.max(0, ...[...within(drawing, 'cNvPr')].map(({ attributes }) => Number(attributes.get('id')) || 0));
  for (const { row, column, png } of pictures) {
    let id = stored.get(png);
    if (id === undefined) stored.set(png, (id = storePicture(workbook, part, png)));
    drawing.children.push({ raw: anchor(row, column, id, ++number) });
  }
}

const anchor = (row: number, column: number, id: string, number: number): string =>
  `<xdr:oneCellAnchor xmlns:xdr="${DRAWING}/spreadsheetDrawing" xmlns:a="${DRAWING}/main" xmlns:r="${OFFICE}">` +
  `<xdr:from><xdr:col>${column - 1}</xdr:col><xdr:colOff>${GAP_PX * EMU}</xdr:colOff><xdr:row>${row - 1}</xdr:row><xdr:rowOff>${GAP_PX * EMU}</xdr:rowOff></xdr:from>` +
  `<xdr:ext cx="${PICTURE_PX * EMU}" cy="${PICTURE_PX * EMU}"/>` +
  `<xdr:pic><xdr:nvPicPr><xdr:cNvPr id="${number}" name="Part ${number}"/><xdr:cNvPicPr><a:picLocks noChangeAspect="1"/></xdr:cNvPicPr></xdr:nvPicPr>` +
  `<xdr:blipFill><a:blip r:embed="${id}"/><a:stretch><a:fillRect/></a:stretch></xdr:blipFill>` +
  `<xdr:spPr><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></xdr:spPr></xdr:pic><xdr:clientData/></xdr:oneCellAnchor>`;

/** The drawing of a sheet, made where there is none. */
function drawingOf(workbook: Workbook, sheet: FormSheet): string {
  const [known] = workbook.related(sheet.part, 'drawing');
  if (known !== undefined) return known;
  const part = freePart(workbook, (at) => `xl/drawings/drawing${at}.xml`);
  workbook.put(part, element('xdr:wsDr', [['xmlns:xdr', `${DRAWING}/spreadsheetDrawing`]]));
  addKind(workbook, 'Override', 'PartName', `/${part}`, 'application/vnd.openxmlformats-officedocument.drawing+xml');
  const id = addRelation(workbook, sheet.part, 'drawing', `/${part}`);
  const tree = workbook.tree(sheet.part);
  putInOrder(
    tree,
    element(`${prefixOf(tree)}drawing`, [
      ['xmlns:rel', OFFICE],
      ['rel:id', id],
    ]),
  );
  return part;
}

function storePicture(workbook: Workbook, drawing: string, png: Uint8Array): string {
  const part = freePart(workbook, (at) => `xl/media/part${at}.png`);
  workbook.put(part, png);
  addKind(workbook, 'Default', 'Extension', 'png', 'image/png');
  return addRelation(workbook, drawing, 'image', `/${part}`);
}

function freePart(workbook: Workbook, name: (at: number) => string): string {
  let at = 1;
  while (workbook.has(name(at))) at++;
  return name(at);
}

/** Says what kind of content a part has, where that is not said yet. */
function addKind(workbook: Workbook, tag: string, attribute: string, value: string, kind: string): void {
  const types = workbook.tree(CONTENT_TYPES);
  const same = (one: XmlElement) => one.attributes.get(attribute)?.toLowerCase() === value.toLowerCase();
  if (childrenOf(types, tag).some(same)) return;
  const made = element(`${prefixOf(types)}${tag}`, [
    [attribute, value],
    ['ContentType', kind],
  ]);
  // Kinds by their endings stand before those of single parts.
  if (tag === 'Default') types.children.unshift(made);
  else types.children.push(made);
}

/** The id of a new relation. */
function addRelation(workbook: Workbook, owner: string, type: string, target: string): string {
  const part = relationsPart(owner);
  if (!workbook.has(part)) workbook.put(part, element('Relationships', [['xmlns', PACKAGE]]));
  const relations = workbook.tree(part);
  const taken = new Set(childrenOf(relations).map(({ attributes }) => attributes.get('Id')));
  let at = 1;
  while (taken.has(`part${at}`)) at++;
  relations.children.push(
    element(`${prefixOf(relations)}Relationship`, [
      ['Id', `part${at}`],
      ['Type', `${OFFICE}/${type}`],
      ['Target', target],
    ]),
  );
  return `part${at}`;
}
