import { Readable } from 'node:stream';
import { SELLER } from '@kettle/server';
import sharp from 'sharp';
import { expect, test } from './kettle.js';

const SIDE = 256;
/** Share of pixels that may differ by more than {@link SEEN} levels: two renderers smooth edges each in its own way. */
const MOST_DIFFERING = 0.008;
const SEEN = 24;

const drawing = (body: string, css = ''): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" width="100" height="100">${css && `<style>${css}</style>`}${body}</svg>`;
const box = (attributes: string, at = 'x="10" y="10" width="60" height="40"'): string =>
  `<rect ${at} fill="#c33" ${attributes}/>`;

/** What drawing programs and web pages write that a renderer of plain SVG passes over. */
const DRAWINGS: Readonly<Record<string, string>> = {
  'a variable of the root': drawing(box('style="fill:var(--c)"'), ':root{--c:#36c}'),
  'a variable in an attribute': drawing('<rect width="60" height="60" fill="var(--c)"/>', 'svg{--c:#36c}'),
  'a variable with something in its place': drawing(box('style="fill:var(--none, #3a3)"')),
  'a variable of variables': drawing(box('style="fill:var(--a)"'), ':root{--b:#36c;--a:var(--b)}'),
  'a variable that a group has otherwise': drawing(
    `<g class="dark">${box('class="c"')}</g>${box('class="c"', 'x="75" width="20" height="50"')}`,
    ':root{--c:#e33}.dark{--c:#136}.c{fill:var(--c)!important}',
  ),
  'a variable of a gradient': drawing(
    '<linearGradient id="g"><stop offset="0" style="stop-color:var(--c)"/><stop offset="1" stop-color="#fff"/></linearGradient><rect width="80" height="80" fill="url(#g)"/>',
    ':root{--c:#136}',
  ),
  'a transform of a style': drawing(box('style="transform:translate(20px,10%) rotate(20deg)"')),
  'a transform of a sheet about a point': drawing(
    box('class="r"'),
    '.r{transform:rotate(45deg);transform-origin:40px 30px}',
  ),
  'a transform about a point of an attribute': drawing(box('transform="rotate(45)" transform-origin="40 30"')),
  'a turn about its own middle': drawing(
    box('style="transform:rotate(30deg) scale(.8);transform-origin:center;transform-box:fill-box"'),
  ),
  'a path turned about its own corner': drawing(
    '<path d="M30 30c20-20 40 0 30 20z" fill="#c33" style="rotate:40deg;transform-origin:left top;transform-box:fill-box"/>',
  ),
  'each transform by itself': drawing(box('style="translate:10px 20px;rotate:.05turn;scale:.7 1.2"')),
  'a clip by a circle': drawing(box('style="clip-path:circle(18px at 30px 50%)"')),
  'a clip by a circle as large as fits': drawing(box('style="clip-path:circle()"')),
  'a clip by an ellipse': drawing(box('style="clip-path:ellipse(20px 30% at 40% 20px)"')),
  'a clip by an inset': drawing(box('style="clip-path:inset(5px 10px 8px round 6px)"')),
  'a clip by a polygon': drawing(box('clip-path="polygon(50% 0, 100% 100%, 0 100%)"')),
  'a clip by an outline': drawing(box(`style="clip-path:path('M0 0H30V30z')"`)),
  'a clip of a group': drawing(`<g style="clip-path:circle(20px)">${box('')}</g>`),
  'an outline of a style': drawing('<path class="p" fill="#c33"/>', '.p{d:path("M10 10H60V60z")}'),
  'selectors of today': drawing(
    `${box('class="a"')}${box('', 'y="60" width="30" height="30"')}`,
    ':is(.a,.b){fill:#136}rect:not(.a){fill:#3a3}',
  ),
  'a sheet for the screen': drawing(box('class="a"'), '@media screen{.a{fill:#136}}@media print{.a{fill:#fff}}'),
  'a sheet in a layer and a condition': drawing(
    box('class="a"'),
    '@layer base{@supports (fill:red){.a{fill:#136}}}@media (prefers-color-scheme:dark){.a{fill:#fff}}',
  ),
  'a stroke that is not scaled': drawing(
    '<g transform="scale(10)"><path d="M1 1H6V6z" fill="none" stroke="#c33" stroke-width="4" vector-effect="non-scaling-stroke"/></g>',
  ),
};

test('drawings whose styles are those of web pages are drawn as a browser draws them', async ({ page, app }) => {
  const pixels = (png: Buffer): Promise<Buffer> =>
    sharp(png).resize(SIDE, SIDE).flatten({ background: '#fff' }).raw().toBuffer();
  const apart: Record<string, number> = {};
  await page.setViewportSize({ width: SIDE, height: SIDE });
  for (const [name, svg] of Object.entries(DRAWINGS)) {
    const asset = await app.house.assets.takeIn(SELLER, Readable.from([Buffer.from(svg)]), `${name}.svg`);
    expect(asset.conversions, name).toEqual([]);
    const ours = await pixels(
      Buffer.from(await (await fetch(`${app.address}/api/assets/${asset.id}/rendition?size=${SIDE}`)).arrayBuffer()),
    );
    await page.setContent(
      `<body style="margin:0"><img width="${SIDE}" height="${SIDE}" src="data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}"></body>`,
    );
    await page.evaluate(() => document.images[0].decode());
    const browsers = await pixels(await page.screenshot());
    let differing = 0;
    for (let i = 0; i < ours.length; i += 3)
      if ([0, 1, 2].some((k) => Math.abs(ours[i + k] - browsers[i + k]) > SEEN)) differing++;
    apart[name] = differing / (SIDE * SIDE);
  }
  expect(Object.entries(apart).filter(([, share]) => share > MOST_DIFFERING)).toEqual([]);
});
