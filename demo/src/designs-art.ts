import { arc, line } from './lettering.js';
import { cloud, contour, dice, drop, stamp, waves } from './shapes.js';

/** A drawing with its natural size in units. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly body: string;
}

export const svgOf = ({ width, height, body }: Drawing, ground = ''): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${ground ? `<rect width="${width}" height="${height}" fill="${ground}"/>` : ''}${body}</svg>`;

const BIG_CLOUD = [
  [0.24, 0.2, 0.2],
  [0.5, 0.33, 0.27],
  [0.76, 0.2, 0.19],
] as const;

export const drizzleCloud: Drawing = {
  width: 2400,
  height: 1560,
  body:
    `<path d="${cloud(980, 860, 1300, [
      [0.25, 0.2, 0.19],
      [0.55, 0.3, 0.23],
      [0.8, 0.16, 0.15],
    ])}" fill="#5E86A6"/>` +
    `<path d="${cloud(80, 1480, 1960, BIG_CLOUD)}" fill="#F4EFE3"/>` +
    `<clipPath id="c"><path d="${cloud(80, 1480, 1960, BIG_CLOUD)}"/></clipPath><g clip-path="url(#c)"><circle cx="520" cy="1180" r="640" fill="#CADDE4"/><circle cx="860" cy="960" r="560" fill="#F4EFE3"/>` +
    Array.from(
      { length: 5 },
      (_, i) =>
        `<rect x="0" y="${1330 + i * 34}" width="2400" height="${18 - i * 2}" fill="#9FC0CF" opacity="${0.75 - i * 0.06}"/>`,
    ).join('') +
    '</g>' +
    '<g fill="none" stroke="#F4EFE3" stroke-width="26" stroke-linecap="round"><path d="M1880 150c90 16 150 80 170 160"/></g>',
};

export const drizzleRain: Drawing = {
  width: 1900,
  height: 900,
  body: (() => {
    const roll = dice(11);
    const colours = ['#5CAFD0', '#5CAFD0', '#8FCBE0', '#F2BD4B', '#5CAFD0'];
    const strokes: string[] = [];
    for (let row = 0; row < 4; row++) {
      for (let i = 0; i < 11; i++) {
        const x = 150 + i * 158 + (row % 2) * 79 + roll() * 18;
        const y = 30 + row * 205 + roll() * 30;
        const length = 105 + roll() * 60;
        if (x - length * 0.36 < 20 || x > 1870) continue;
        strokes.push(
          `<path d="M${x.toFixed(0)} ${y.toFixed(0)}l${(-length * 0.36).toFixed(0)} ${length.toFixed(0)}" stroke="${colours[Math.floor(roll() * 5)]}"/>`,
        );
      }
    }
    return `<g fill="none" stroke-width="34" stroke-linecap="round">${strokes.join('')}</g>`;
  })(),
};

export const drizzleLettering: Drawing = {
  width: 2400,
  height: 1330,
  body:
    line('Mostly', 1200, 500, { face: 'serif', size: 640, fill: '#F2BD4B', spacing: -0.01 }) +
    line('Drizzle', 1200, 1010, { face: 'serif', size: 640, fill: '#F4EFE3', spacing: -0.01 }) +
    '<path d="M60 1172H330M2070 1172H2340" stroke="#8FCBE0" stroke-width="14" stroke-linecap="round"/>' +
    line('TARN END WEATHER CLUB', 1200, 1205, { face: 'sans', size: 104, fill: '#8FCBE0', spacing: 0.08 }) +
    line('MEETS OUTDOORS, REGRETTABLY', 1200, 1318, { face: 'sans', size: 66, fill: '#5CAFD0', spacing: 0.12 }),
};

const INK = '#1F1F22';

export const barometerDial: Drawing = {
  width: 2600,
  height: 2600,
  body: (() => {
    const [c, r] = [1300, 1240];
    const tick = (angle: number, from: number, to: number, width: number) => {
      const a = (angle * Math.PI) / 180;
      return `<path d="M${(c + from * Math.sin(a)).toFixed(1)} ${(c - from * Math.cos(a)).toFixed(1)}L${(c + to * Math.sin(a)).toFixed(1)} ${(c - to * Math.cos(a)).toFixed(1)}" stroke-width="${width}"/>`;
    };
    const ticks = Array.from({ length: 61 }, (_, i) =>
      tick(-135 + i * 4.5, i % 5 === 0 ? 830 : 880, 940, i % 5 === 0 ? 20 : 9),
    ).join('');
    const numbers = Array.from({ length: 7 }, (_, i) =>
      arc(String(28 + i * 0.5).replace('.5', '½'), c, c, 720, -135 + i * 45, { face: 'classic', size: 120, fill: INK }),
    ).join('');
    const words: [string, number][] = [
      ['STORMY', -112],
      ['MUCH RAIN', -67],
      ['RAIN', -24],
      ['CHANGE', 20],
      ['FAIR', 66],
      ['VERY DRY', 110],
    ];
    const rays = Array.from({ length: 32 }, (_, i) =>
      tick(i * 11.25, i % 2 ? 190 : 160, i % 2 ? 380 : 470, i % 2 ? 8 : 16),
    ).join('');
    const bolts = Array.from({ length: 8 }, (_, i) => {
      const a = (i * Math.PI) / 4 + Math.PI / 8;
      return `<circle cx="${(c + 1188 * Math.sin(a)).toFixed(0)}" cy="${(c - 1188 * Math.cos(a)).toFixed(0)}" r="26" fill="${INK}"/>`;
    }).join('');
    return (
      `<g fill="none" stroke="${INK}" stroke-linecap="round"><circle cx="${c}" cy="${c}" r="${r}" stroke-width="40"/><circle cx="${c}" cy="${c}" r="1135" stroke-width="14"/><circle cx="${c}" cy="${c}" r="960" stroke-width="10"/>${ticks}${rays}` +
      `<circle cx="${c}" cy="${c}" r="500" stroke-width="8"/><circle cx="${c}" cy="${c}" r="524" stroke-width="4"/></g>${bolts}${numbers}` +
      words
        .map(([word, angle]) => arc(word, c, c, 1012, angle, { face: 'narrow', size: 112, fill: INK, spacing: 0.06 }))
        .join('') +
      arc('COMPENSATED FOR PESSIMISM', c, c, 1080, 0, { face: 'narrow', size: 96, fill: INK, spacing: 0.12 }, true) +
      arc('No. 7', c, c, 660, 0, { face: 'script', size: 130, fill: INK }, true)
    );
  })(),
};

export const barometerNeedle: Drawing = {
  width: 1500,
  height: 1500,
  body:
    '<g transform="rotate(-38 750 750)"><path d="M750 20L800 640H700Z" fill="#C2552B"/><path d="M735 860C690 1010 600 1080 640 1180C670 1250 750 1210 750 1140C750 1210 830 1250 860 1180C900 1080 810 1010 765 860Z" fill="#C2552B"/><rect x="722" y="600" width="56" height="300" fill="#C2552B"/></g>' +
    '<circle cx="750" cy="750" r="112" fill="#C2552B"/><circle cx="750" cy="750" r="54" fill="#1F1F22"/>',
};

export const barometerLettering: Drawing = {
  width: 2600,
  height: 800,
  body:
    line('BAROMETER', 1300, 330, { face: 'slab', size: 352, fill: INK, spacing: -0.005 }) +
    line('falling', 1300, 640, { face: 'script', size: 400, fill: '#C2552B' }) +
    `<g stroke="${INK}" stroke-width="18" stroke-linecap="round"><path d="M120 560H700M1900 560H2480"/></g>`,
};

export const cumulus: Drawing = {
  width: 3000,
  height: 3500,
  body: (() => {
    const skies: [string, string, string, string, readonly (readonly [number, number, number])[]][] = [
      [
        '#7DB7D8',
        '#FFFFFF',
        '#D3E7F1',
        'humilis',
        [
          [0.3, 0.13, 0.13],
          [0.55, 0.18, 0.16],
          [0.75, 0.12, 0.11],
        ],
      ],
      [
        '#3F7EA6',
        '#F7F4EA',
        '#C4D9E4',
        'mediocris',
        [
          [0.26, 0.18, 0.18],
          [0.5, 0.32, 0.22],
          [0.74, 0.2, 0.18],
        ],
      ],
      [
        '#E9A56B',
        '#FFF3DF',
        '#F4C79C',
        'congestus',
        [
          [0.24, 0.18, 0.18],
          [0.42, 0.42, 0.2],
          [0.56, 0.62, 0.16],
          [0.7, 0.3, 0.2],
        ],
      ],
      [
        '#2E4A62',
        '#8FA6B5',
        '#62798A',
        'nimbus',
        [
          [0.22, 0.16, 0.16],
          [0.45, 0.26, 0.21],
          [0.7, 0.2, 0.19],
        ],
      ],
      [
        '#6B3E5E',
        '#F2C9B0',
        '#C88D8F',
        'fractus',
        [
          [0.3, 0.12, 0.1],
          [0.5, 0.2, 0.14],
          [0.72, 0.1, 0.1],
        ],
      ],
      [
        '#D9663F',
        '#FBE3B5',
        '#EFA968',
        'castellanus',
        [
          [0.2, 0.22, 0.12],
          [0.4, 0.34, 0.14],
          [0.6, 0.26, 0.13],
          [0.8, 0.3, 0.11],
        ],
      ],
    ];
    const [w, h, gap] = [860, 1000, 80];
    return (
      skies
        .map(([sky, light, shade, name, lobes], i) => {
          const x = 130 + (i % 3) * (w + gap);
          const y = 130 + Math.floor(i / 3) * (h + gap);
          const outline = cloud(x + 150, y + 690, 560, lobes);
          return (
            `<path d="${stamp(x, y, w, h, 17)}" fill="#F3ECDC"/><rect x="${x + 52}" y="${y + 52}" width="${w - 104}" height="${h - 200}" fill="${sky}"/>` +
            `<g fill="none" stroke="${light}" stroke-opacity=".35" stroke-width="7">${Array.from({ length: 6 }, (_, k) => `<path d="M${x + 52} ${y + 130 + k * 105}H${x + w - 52}"/>`).join('')}</g>` +
            `<path d="${outline}" fill="${shade}" transform="translate(26 30)"/><path d="${outline}" fill="${light}"/>` +
            (name === 'nimbus'
              ? `<g stroke="#9CC3DB" stroke-width="13" stroke-linecap="round">${Array.from({ length: 7 }, (_, k) => `<path d="M${x + 230 + k * 68} ${y + 728}l-26 72"/>`).join('')}</g>`
              : '') +
            (name === 'congestus' ? `<circle cx="${x + 690}" cy="${y + 190}" r="74" fill="#FBE3B5"/>` : '') +
            line(name, x + 62, y + h - 58, { face: 'classic', size: 92, fill: '#2B2A33', anchor: 'start' }) +
            line(`${i + 1}d`, x + w - 110, y + h - 58, { face: 'grotesque', size: 84, fill: '#D9663F' })
          );
        })
        .join('') +
      line('CUMULUS', 1500, 2760, { face: 'grotesque', size: 560, fill: '#2B2A33', spacing: -0.015 }) +
      line('APPRECIATION', 1500, 3130, { face: 'grotesque', size: 356, fill: '#D9663F', spacing: -0.005 }) +
      line('a field guide to looking up', 1500, 3350, { face: 'script', size: 176, fill: '#3F7EA6' })
    );
  })(),
};

export const fogSignal: Drawing = {
  width: 3000,
  height: 3500,
  body: (() => {
    const [cx, cy] = [1500, 1380];
    const rings = ['#1D3A66', '#28518A', '#3A6FA8', '#5C93C2', '#F2BD4B']
      .map((fill, i) => `<circle cx="${cx}" cy="${cy}" r="${1280 - i * 225}" fill="${fill}"/>`)
      .join('');
    const beam =
      '<g fill="#FBE9B7"><path d="M1440 800L300 480V1020Z" opacity=".92"/><path d="M1560 800L2700 480V1020Z" opacity=".92"/></g>';
    const tower =
      '<path d="M1330 1000H1670L1780 2260H1220Z" fill="#F7F1E3"/>' +
      [0, 1, 2]
        .map((i) => {
          const y = 1160 + i * 400;
          const spread = (v: number) => 170 + (v - 1000) * 0.0873;
          return `<path d="M${1500 - spread(y)} ${y}H${1500 + spread(y)}L${1500 + spread(y + 200)} ${y + 200}H${1500 - spread(y + 200)}Z" fill="#CF4A2E"/>`;
        })
        .join('') +
      '<path d="M1500 1000H1670L1780 2260H1500Z" fill="#1B2A44" opacity=".16"/><rect x="1270" y="940" width="460" height="70" rx="16" fill="#22324F"/><rect x="1370" y="690" width="260" height="250" fill="#FDF3CC"/>' +
      '<g stroke="#22324F" stroke-width="26"><path d="M1370 690V940M1456 690V940M1544 690V940M1630 690V940"/></g><path d="M1340 700Q1500 440 1660 700Z" fill="#CF4A2E"/><circle cx="1500" cy="520" r="34" fill="#22324F"/>' +
      '<path d="M1440 2260V2060a60 60 0 0 1 120 0V2260Z" fill="#22324F"/><rect x="1462" y="1440" width="76" height="110" rx="38" fill="#22324F"/>';
    const sea =
      `<clipPath id="s"><circle cx="${cx}" cy="${cy}" r="1280"/></clipPath><g clip-path="url(#s)"><path d="M900 2300C1050 2130 1220 2240 1330 2200S1760 2130 1900 2200 2080 2230 2150 2320V2700H850Z" fill="#22324F"/>` +
      `<path d="${waves(200, 2340, 2600, 9, 90, 2800, 0)}" fill="#5C93C2"/><path d="${waves(120, 2440, 2760, 8, 100, 2800, 1)}" fill="#3A6FA8"/><path d="${waves(180, 2550, 2640, 9, 90, 2800, 0)}" fill="#F7F1E3"/></g>`;
    const fog =
      '<g stroke="#F7F1E3" stroke-width="44" stroke-linecap="round"><path d="M420 1760H1010M300 1880H840M2000 1700H2560M2110 1820H2720M520 2000H1100M1900 1960H2480"/></g>';
    return (
      rings +
      beam +
      tower +
      sea +
      fog +
      line('FOG SIGNAL', 1500, 3130, { face: 'poster', size: 415, fill: '#F2BD4B' }) +
      line('TWO LONG, ONE SHORT, THEN TEA', 1500, 3340, { face: 'sans', size: 118, fill: '#F7F1E3', spacing: 0.14 })
    );
  })(),
};

const PANEL = { width: 3000, height: 3750 };

export const isobarGround: Drawing = {
  ...PANEL,
  body: `<rect width="${PANEL.width}" height="${PANEL.height}" rx="260" fill="#12524C"/>`,
};

export const isobarLines: Drawing = {
  ...PANEL,
  body: (() => {
    const [columns, rows, cell] = [120, 150, 25];
    const hill = (i: number, j: number, x: number, y: number, size: number) =>
      Math.exp(-(((i - x) ** 2 + (j - y) ** 2) / (2 * size * size)));
    const field = (i: number, j: number): number =>
      1.5 * hill(i, j, 34, 44, 26) -
      1.7 * hill(i, j, 86, 92, 24) +
      0.9 * hill(i, j, 100, 22, 20) -
      0.8 * hill(i, j, 22, 122, 22) +
      0.16 * Math.sin(i * 0.11 + j * 0.05) +
      0.1 * Math.sin(j * 0.16 - i * 0.04);
    const lines = Array.from({ length: 31 }, (_, n) => {
      const level = -1.55 + n * 0.103;
      const colour = n % 5 === 0 ? '#F2BD4B' : n < 11 ? '#7FC4B5' : n < 20 ? '#BFE0CF' : '#F0E6CF';
      return `<path d="${contour(field, columns, rows, cell, level)}" stroke="${colour}" stroke-width="${n % 5 === 0 ? 20 : 11}"/>`;
    }).join('');
    const mark = (letter: string, x: number, y: number, fill: string) =>
      `<circle cx="${x}" cy="${y}" r="150" fill="#12524C"/>${line(letter, x, y + 100, { face: 'serif', size: 290, fill })}`;
    return (
      `<clipPath id="p"><rect x="40" y="40" width="${PANEL.width - 80}" height="${PANEL.height - 80}" rx="230"/></clipPath><g clip-path="url(#p)"><g fill="none" stroke-linejoin="round" stroke-linecap="round">${lines}</g></g>` +
      mark('H', 850, 1100, '#F0E6CF') +
      mark('L', 2150, 2300, '#F2BD4B') +
      mark('H', 2500, 550, '#F0E6CF') +
      mark('L', 550, 3050, '#F2BD4B')
    );
  })(),
};

export const rainGauge: Drawing = {
  width: 1800,
  height: 1800,
  body: (() => {
    const c = 900;
    const scale = Array.from({ length: 13 }, (_, i) => `<path d="M${i % 2 ? 930 : 895} ${560 + i * 45}H990"/>`).join(
      '',
    );
    const glass = '<clipPath id="g"><path d="M790 470H1010V1150a110 110 0 0 1-220 0Z"/></clipPath>';
    return (
      `${glass}<g fill="none" stroke="${INK}"><circle cx="${c}" cy="${c}" r="860" stroke-width="36"/><circle cx="${c}" cy="${c}" r="800" stroke-width="10"/><circle cx="${c}" cy="${c}" r="560" stroke-width="14"/></g>` +
      arc('RAIN GAUGE REGULARS', c, c, 620, 0, { face: 'slab', size: 140, fill: INK, spacing: 0.035 }) +
      arc('TUESDAYS, WET OR DRY', c, c, 738, 0, { face: 'slab', size: 108, fill: INK, spacing: 0.05 }, true) +
      `<g clip-path="url(#g)"><path d="${waves(760, 880, 280, 4, 36, 1300)}" fill="#1F7F7A"/></g>` +
      `<g fill="none" stroke="${INK}" stroke-width="24" stroke-linejoin="round"><path d="M790 470V1150a110 110 0 0 0 220 0V470"/><path d="M690 400H1110L1010 500H790Z" fill="${INK}"/></g>` +
      `<g stroke="${INK}" stroke-width="13" stroke-linecap="round">${scale}</g><path d="${drop(640, 560, 90)}" fill="#1F7F7A"/><path d="${drop(1170, 640, 74)}" fill="#1F7F7A"/><path d="${drop(600, 860, 64)}" fill="#1F7F7A"/><path d="${drop(1210, 930, 88)}" fill="#1F7F7A"/>`
    );
  })(),
};
