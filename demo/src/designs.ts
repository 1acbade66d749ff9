import type { LayerPlace } from '@kettle/core/geometry';

/** A layer of a demo design: which artwork file, and where on the print field (mm). */
export interface DemoLayer {
  readonly file: string;
  readonly name: string;
  readonly place: Pick<LayerPlace, 'x' | 'y' | 'width' | 'height'> & { readonly turn?: number };
}

export interface DemoDesign {
  readonly name: string;
  readonly layers: readonly DemoLayer[];
  /** Requirement ids, with the garment colour where it is not the first on sale. */
  readonly targets: readonly { readonly id: string; readonly garment?: string; readonly cover?: true }[];
  /** Targets whose print file is made when the demo is loaded. */
  readonly made: readonly string[];
  /** Pictures that are made when the demo is loaded, by blank; the first one is what the Mockups station opens with. */
  readonly pictures: readonly {
    readonly blankId: string;
    readonly requirementId: string;
    readonly colours: readonly string[];
  }[];
  /** What it is sold with. */
  readonly listing?: { readonly description: string; readonly tags: readonly string[] };
  /** People who want a print of it, with size, colour and copies. */
  readonly orders?: {
    readonly requirementId: string;
    readonly shopId: string;
    readonly position: string;
    /** Pence. */
    readonly price: number;
    readonly worthFrom: number;
    readonly note: string;
    readonly people: readonly (readonly [name: string, size: string, colour: string, copies: number])[];
  };
  /** A clip of its scenes, in their order, each moved in its own way. */
  readonly clip?: {
    readonly name: string;
    readonly movements: readonly ('push' | 'pull' | 'drift')[];
    readonly title: string;
    readonly line: string;
    readonly trackId: string;
  };
  /** A finding that is taken as it is, with the reason. */
  readonly accepted?: { readonly requirementId: string; readonly code: string; readonly reason: string };
  /** Targets that become out of date because the design is moved afterwards. */
  readonly moved?: boolean;
}

/** A picture `width` mm wide with its own proportions, its middle at (x, top + height / 2). */
const at = (x: number, top: number, width: number, aspect: number) => ({
  x,
  y: Math.round((top + width / aspect / 2) * 10) / 10,
  width,
  height: Math.round((width / aspect) * 10) / 10,
});

const MIDDLE = 177.8;

export const DEMO_DESIGNS: readonly DemoDesign[] = [
  {
    name: 'Mostly Drizzle',
    listing: {
      description:
        'A cloud, a hill and the rain between them, for everybody who keeps a gauge at the end of the garden and looks at it before breakfast. Drawn by the Tarn End Weather Club, whose gauges are paid for with it.',
      tags: ['weather', 'rain', 'cloud', 'garden'],
    },
    layers: [
      { file: 'mostly-drizzle-rain.svg', name: 'Rain', place: at(MIDDLE, 178, 196, 1900 / 900) },
      { file: 'mostly-drizzle-cloud.svg', name: 'Cloud', place: at(MIDDLE + 8, 28, 256, 2400 / 1560) },
      { file: 'mostly-drizzle-lettering.svg', name: 'Lettering', place: at(MIDDLE, 252, 240, 2400 / 1330) },
    ],
    targets: [
      { id: 'larkpost-tee' },
      { id: 'larkpost-tote', garment: '#1F2B4D' },
      { id: 'larkpost-mug', garment: '#1F2B4D' },
      { id: 'quillmere-square' },
      { id: 'hobnail-chest' },
      { id: 'seamwide-panel' },
    ],
    made: ['larkpost-tee', 'larkpost-tote', 'larkpost-mug', 'hobnail-chest'],
    pictures: [
      { blankId: 'tee-front', requirementId: 'larkpost-tee', colours: ['Harbour', 'Soot'] },
      { blankId: 'mug-front', requirementId: 'larkpost-mug', colours: ['Harbour'] },
    ],
  },
  {
    name: 'Barometer Falling',
    layers: [
      { file: 'barometer-dial.svg', name: 'Dial', place: at(MIDDLE, 26, 262, 1) },
      { file: 'barometer-needle.svg', name: 'Needle', place: at(MIDDLE, 82, 150, 1) },
      { file: 'barometer-lettering.svg', name: 'Lettering', place: at(MIDDLE, 300, 278, 2600 / 800) },
    ],
    targets: [
      { id: 'larkpost-tee', garment: '#D9A93B' },
      { id: 'larkpost-tote' },
      { id: 'larkpost-mug' },
      { id: 'quillmere-square' },
      { id: 'hobnail-chest', garment: '#1B1B1D' },
    ],
    made: ['larkpost-tee', 'larkpost-tote', 'quillmere-square'],
    moved: true,
    pictures: [
      { blankId: 'tee-flat', requirementId: 'larkpost-tee', colours: ['Straw', 'Chalk'] },
      { blankId: 'tote', requirementId: 'larkpost-tote', colours: ['Oat'] },
    ],
  },
  {
    name: 'Cumulus Appreciation',
    accepted: {
      requirementId: 'quillmere-square',
      code: 'white-box',
      reason: 'The square is printed to its edge: the paper of the field guide belongs to it.',
    },
    layers: [{ file: 'cumulus-appreciation.jpg', name: 'Field guide', place: at(MIDDLE, 30, 254, 3000 / 3500) }],
    targets: [
      { id: 'larkpost-tee', garment: '#F5F3EE' },
      { id: 'larkpost-tote' },
      { id: 'quillmere-square' },
      { id: 'quillmere-poster', cover: true },
      { id: 'hobnail-chest', garment: '#9CC3DB' },
    ],
    made: [],
    pictures: [{ blankId: 'poster-portrait', requirementId: 'quillmere-poster', colours: ['Enamel'] }],
  },
  {
    name: 'Fog Signal',
    layers: [{ file: 'fog-signal.png', name: 'Lighthouse', place: at(MIDDLE, 28, 276, 3000 / 3500) }],
    targets: [
      { id: 'larkpost-tee', garment: '#1B1B1D' },
      { id: 'larkpost-tote', garment: '#1F2B4D' },
      { id: 'larkpost-mug', garment: '#1F2B4D' },
      { id: 'quillmere-square' },
      { id: 'hobnail-chest', garment: '#59616B' },
    ],
    made: ['larkpost-tee', 'larkpost-tote', 'larkpost-mug', 'hobnail-chest'],
    pictures: [{ blankId: 'hoodie-front', requirementId: 'larkpost-tee', colours: ['Soot', 'Slate'] }],
  },
  {
    name: 'Isobars',
    layers: [
      { file: 'isobars-ground.svg', name: 'Ground', place: at(MIDDLE, 24, 288, 3000 / 3750) },
      { file: 'isobars-lines.svg', name: 'Lines', place: at(MIDDLE, 24, 288, 3000 / 3750) },
    ],
    targets: [
      { id: 'larkpost-tee', garment: '#D9A93B' },
      { id: 'larkpost-tote' },
      { id: 'quillmere-square' },
      { id: 'quillmere-poster' },
      { id: 'seamwide-panel', cover: true },
    ],
    made: ['larkpost-tote', 'quillmere-square', 'quillmere-poster', 'seamwide-panel'],
    pictures: [
      { blankId: 'tee-front', requirementId: 'larkpost-tee', colours: ['Straw', 'Harbour'] },
      { blankId: 'tote', requirementId: 'larkpost-tote', colours: ['Flax'] },
    ],
  },
  {
    name: 'Rain Gauge Regulars',
    layers: [{ file: 'rain-gauge-regulars.png', name: 'Badge', place: at(MIDDLE, 34, 240, 1) }],
    targets: [
      { id: 'larkpost-tee', garment: '#E3B5AE' },
      { id: 'larkpost-mug' },
      { id: 'hobnail-chest', garment: '#1B1B1D' },
      { id: 'hobnail-crest', garment: '#E3B5AE' },
    ],
    orders: {
      requirementId: 'hobnail-chest',
      shopId: 'hobnail',
      position: 'Full front',
      price: 1800,
      worthFrom: 25,
      note: 'For those who read the gauge before breakfast. Handed out at the autumn meeting.',
      people: [
        ['Ada Fell', 'M', 'Soot', 2],
        ['Ben Tarn', 'L', 'Harbour', 1],
        ['Cleo Beck', 'S', 'Soot', 3],
        ['Dan How', 'XL', 'Harbour', 4],
        ['Edie Mire', 'M', 'Harbour', 2],
        ['The tea tent', 'L', 'Soot', 12],
      ],
    },
    clip: {
      name: 'Regulars',
      movements: ['push', 'drift', 'pull'],
      title: 'Rain Gauge Regulars',
      line: 'Read before breakfast',
      trackId: 'fog-over-the-rain-gauge',
    },
    made: ['larkpost-mug', 'hobnail-crest'],
    pictures: [
      { blankId: 'tee-front', requirementId: 'larkpost-tee', colours: ['Blush', 'Sky'] },
      { blankId: 'mug-front', requirementId: 'larkpost-mug', colours: ['Fog'] },
    ],
  },
];
