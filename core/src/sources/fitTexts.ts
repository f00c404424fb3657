import {
  hashKey,
  hasUnfitSigns,
  propertyNameFor,
  withFitSigns,
  type Assembly,
  type Component,
  type Properties,
} from '../assembly/index.ts';

/** What a name, number or revision may have; the same as what a drafter may type there. */
const LONGEST_NAME = 400;
const LONGEST_PROPERTY = 200;
/**
 * Texts of a file as documents and other files can keep them: signs that cannot be shown become `\ufffd`, names that
 * are too long are shortened (two never become one), the whole text stays as a property. What changed is a finding.
 */
export function fitTexts(assembly: Assembly): Assembly {
  const changed = { signs: new Set<string>(), long: new Set<string>() };
  const signs = (text: string): string => {
    const fit = withFitSigns(text);
    if (fit === text) return text;
    changed.signs.add(fit.slice(0, 60));
    return fit;
  };
  const short = (text: string, most: number): string => {
    if (text.length <= most) return text;
    changed.long.add(text.slice(0, 40));
    const end = ` … ${hashKey(text).slice(0, 8)}`;
    return wellFormed(text.slice(0, most - end.length)) + end;
  };
  const properties = (given: Properties): Properties => {
    const names = Object.keys(given);
    const fits = (name: string) => name.length <= LONGEST_PROPERTY && !hasUnfitSigns(name);
    const value = (name: string) => given[name].value;
    if (names.every((name) => fits(name) && !isUnfit(value(name)))) return given;
    return Object.fromEntries(
      names.map((name) => {
        const { value: own, ...unit } = given[name];
        return [short(signs(name), LONGEST_PROPERTY), { value: typeof own === 'string' ? signs(own) : own, ...unit }];
      }),
    );
  };
  const components = assembly.components.map((component): Component => {
    const { partNumber, name, description, revision, author, usages } = component;
    const texts = [partNumber, name, description, revision];
    const isFit =
      texts.every((text) => text.length <= LONGEST_NAME && !hasUnfitSigns(text)) &&
      !isUnfit(author) &&
      properties(component.properties) === component.properties &&
      usages.every(
        (usage) =>
          !hasUnfitSigns(usage.label) && (!usage.properties || properties(usage.properties) === usage.properties),
      );
    if (isFit) return component;
    const whole = Object.entries({
      'Full number': partNumber,
      'Full name': name,
      'Full revision': revision,
      'Full description': description,
    })
      .filter(([, text]) => text.length > LONGEST_NAME)
      .map(([key, text]) => [propertyNameFor(key), { value: signs(text) }] as const);
    return {
      ...component,
      partNumber: short(signs(partNumber), LONGEST_NAME),
      name: short(signs(name), LONGEST_NAME),
      description: short(signs(description), LONGEST_NAME),
      revision: short(signs(revision), LONGEST_NAME),
      ...(author === undefined ? {} : { author: signs(author) }),
      properties: { ...properties(component.properties), ...Object.fromEntries(whole) },
      usages: usages.map((usage) => ({
        ...usage,
        label: signs(usage.label),
        ...(usage.properties ? { properties: properties(usage.properties) } : {}),
      })),
    };
  });
  const findings = [...assembly.findings];
  if (changed.signs.size > 0)
    findings.push({
      code: 'unfit-signs',
      message: `${changed.signs.size} texts hold signs that cannot be shown; each shows as \ufffd (${examples(changed.signs)}).`,
    });
  if (changed.long.size > 0)
    findings.push({
      code: 'long-names',
      message: `${changed.long.size} names or numbers have over ${LONGEST_NAME} letters and were shortened; the whole texts stand among the properties (${examples(changed.long)}).`,
    });
  return findings.length === assembly.findings.length ? assembly : { ...assembly, components, findings };
}

const isUnfit = (value: unknown): boolean => typeof value === 'string' && hasUnfitSigns(value);
/** Without half a pair at its end. */
const wellFormed = (text: string): string => text.replace(/[\ud800-\udbff]$/, '');
const examples = (texts: ReadonlySet<string>): string =>
  [...texts]
    .slice(0, 3)
    .map((text) => `“${text}”`)
    .join(', ') + (texts.size > 3 ? ' …' : '');
