import { ownFields, propertyNameFor, type Properties, type PropertyValue } from '../assembly/index.ts';

/** Attributes by which a group says which symbol it is. */
export const NAMING = ['data-symbol', 'data-component', 'data-part', 'data-type', 'data-kind'] as const;
/** Attributes that name a symbol where the group holds no other one: layers have them too. */
export const NAMING_ALONE = ['data-name', 'data-item', 'data-block', 'data-device', 'data-element'] as const;
/** Attributes with a part number. */
export const NUMBERING = ['data-part-number', 'data-number', 'data-partnumber'] as const;
/** What an element without `data-` attributes has. */
export const NO_PROPERTIES: Properties = {};

/** A number with a unit, or a text; 007 is a text. */
export function valueOf(trimmed: string): PropertyValue {
  const first = trimmed.charCodeAt(0);
  // Most values begin with a letter and are words.
  if (first > 57 && first !== 116 && first !== 102) return { value: trimmed };
  const match = /^([+-]?(?:0|[1-9]\d{0,14})(?:\.\d{1,10})?)(?:\s*(mm|cm|m|km|in|ft|g|kg|t|W|kW|V|A|l|°|lm|h))?$/.exec(
    trimmed,
  );
  if (match) return match[2] ? { value: Number(match[1]), unit: match[2] } : { value: Number(match[1]) };
  if (/^(true|false)$/.test(trimmed)) return { value: trimmed === 'true' };
  return { value: trimmed };
}
const OWN = new Set<string>(ownFields);
const NOT_PROPERTIES = new Set<string>([...NAMING, ...NUMBERING, 'data-layer']);

/** What properties are called, by attribute; null for what is none. */
const shownNames = new Map<string, string | null>();
export function shownName(attribute: string): string | null {
  let shown = shownNames.get(attribute);
  if (shown === undefined) {
    const words = attribute.slice(5).replaceAll('-', ' ').trim();
    const name = words === '' ? '' : words[0].toUpperCase() + words.slice(1);
    shown =
      name === '' || NOT_PROPERTIES.has(attribute) ? null : propertyNameFor(OWN.has(name) ? `${name} here` : name);
    // A file of its own may have any number of names.
    if (shownNames.size < 10_000) shownNames.set(attribute, shown);
  }
  return shown;
}
