// The camp's site plan as SVG: flags, lamps, anchors, crates and tents with attributes. Sizes are mm on the ground.

/** What the plan of a revision has. */
export interface SitePlanOptions {
  readonly revision: 'A' | 'B';
}
const WIDTH = 60_000,
  HEIGHT = 40_000;

const symbols = `
<symbol id="cap" overflow="visible"><title>Cap flag</title><desc>Marks the edge of a path in whiteout</desc>
<path d="M0 0V-1500" fill="none" stroke="#20303a"/><path d="M0 -1500L900 -1200L0 -900Z" stroke="#20303a" fill="#d9541e"/><circle r="160" fill="#20303a"/></symbol>
<symbol id="lamp" overflow="visible"><title>Camp lamp</title><desc>On a pole, with battery</desc>
<circle r="520" fill="#fff6cf" stroke="#20303a"/><path d="M-370 -370L370 370M-370 370L370 -370" fill="none" stroke="#20303a"/></symbol>
<symbol id="anchor" overflow="visible"><title>Snow anchor</title>
<path d="M-420 -300L420 -300L0 480Z" fill="#b0c8ce" stroke="#20303a"/></symbol>
<symbol id="tent" overflow="visible"><title>Shelter tent 6 m</title>
<rect x="-3000" y="-2000" width="6000" height="4000" fill="#e9efe4" stroke="#20303a"/><path d="M-3000 0H3000M-3000 -2000L-2200 0L-3000 2000M3000 -2000L2200 0L3000 2000" fill="none" stroke="#20303a"/>
<use href="#anchor" x="-3600" y="-2600" data-depth="600 mm"/><use href="#anchor" x="3600" y="-2600" data-depth="600 mm"/><use href="#anchor" transform="translate(-3600 2600) rotate(180)" data-depth="600 mm"/><use href="#anchor" transform="translate(3600 2600) rotate(180)" data-depth="600 mm"/></symbol>`;

interface Place {
  readonly x: number;
  readonly y: number;
}
const use = (
  id: string,
  { x, y }: Place,
  attributes: Readonly<Record<string, string>> = {},
  turn = 0,
  title = '',
): string => {
  const said = Object.entries(attributes)
    .map(([name, value]) => ` data-${name}="${value}"`)
    .join('');
  const where = turn === 0 ? `x="${x}" y="${y}"` : `transform="translate(${x} ${y}) rotate(${turn})"`;
  return title === ''
    ? `<use href="#${id}" ${where}${said}/>`
    : `<use href="#${id}" ${where}${said}><title>${title}</title></use>`;
};

/** The plan; the same text at every call. Revision B has two flags and a lamp more, and a crate moved. */
export function sitePlanSvg({ revision }: SitePlanOptions): string {
  const isB = revision === 'B';
  const colours = ['red', 'black', 'red'];
  const flags = Array.from({ length: isB ? 16 : 14 }, (_, at) =>
    use(
      'cap',
      { x: 5500 + at * 3250, y: 21_800 + (at % 2) * 2300 },
      {
        colour: colours[at % 3],
        size: at % 3 === 1 ? 'tall' : 'standard',
      },
    ),
  );
  const lamps = Array.from({ length: isB ? 8 : 7 }, (_, at) =>
    use(
      'lamp',
      { x: 8000 + (at % 4) * 13_500, y: at < 4 ? 18_300 : 27_600 },
      {
        power: at % 2 === 0 ? '40 W' : '15 W',
        'cable-length': `${12 + at * 3} m`,
      },
    ),
  );
  const tents = [
    use('tent', { x: 12_000, y: 9500 }, { crew: '4' }, 0, 'Mess tent'),
    use('tent', { x: 28_000, y: 8800 }, { crew: '3' }, 0, 'Sleeping tent 1'),
    use('tent', { x: 44_000, y: 9500 }, { crew: '3' }, 0, 'Sleeping tent 2'),
    use('tent', { x: 15_000, y: 33_000 }, { crew: '2' }, 0, 'Workshop tent'),
  ];
  const crates = Array.from({ length: 9 }, (_, at) => {
    const x = 30_000 + (at % 3) * 1750 + (isB && at === 8 ? 3000 : 0),
      y = 31_500 + Math.floor(at / 3) * 1250;
    const content = ['core boxes', 'fuel', 'rope'][at % 3];
    return `<g data-symbol="Crate" data-part-number="SL-6000" data-content="${content}" data-load="${20 + at * 2} kg" transform="translate(${x} ${y})"><rect x="-700" y="-450" width="1400" height="900" fill="#d8b98a" stroke="#20303a"/><path d="M-700 -450L700 450M-700 450L700 -450" fill="none" stroke="#20303a"/></g>`;
  });
  const anchors = Array.from({ length: 6 }, (_, at) =>
    use(
      'anchor',
      { x: 47_500 + 3200 * Math.cos((at * Math.PI) / 3), y: 32_500 + 3200 * Math.sin((at * Math.PI) / 3) },
      { depth: '900 mm' },
    ),
  );
  // Drawn as they are, without a symbol: somebody may want to count them all the same.
  const drums = Array.from(
    { length: 7 },
    (_, at) =>
      `<circle cx="${37_400 + (at % 4) * 900}" cy="${34_500 + Math.floor(at / 4) * 900}" r="${at === 6 ? 420 : 300}"/>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}mm" height="${HEIGHT}mm" viewBox="0 0 ${WIDTH} ${HEIGHT}">
<title>Winter camp, site plan</title>
<desc>Revision ${revision}; all that is made up</desc>
<defs>${symbols}
</defs>
<rect width="${WIDTH}" height="${HEIGHT}" fill="none" stroke="#566269"/>
<path d="M2000 22900C18000 21200 36000 24600 58000 22900" fill="none" stroke="#9aa5a0"/>
<path d="M2000 24200C18000 22500 36000 25900 58000 24200" fill="none" stroke="#9aa5a0"/>
<g fill="none" stroke="#566269"><circle cx="47500" cy="32500" r="1500"/><circle cx="47500" cy="32500" r="250"/><path d="M45200 32500H49800M47500 30200V34800"/></g>
<g id="Fuel" fill="#c9d3cf" stroke="#20303a">${drums.join('')}</g>
<g id="Tents">
${tents.join('\n')}
</g>
<g id="Path">
${flags.join('\n')}
${lamps.join('\n')}
</g>
<g id="Store">
${crates.join('\n')}
</g>
<g id="Drill site">
${anchors.join('\n')}
</g>
</svg>
`;
}
