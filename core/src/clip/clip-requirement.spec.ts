import { refusedAfter, refusedBefore, type ClipRequirementFields, type ReadClipFile } from './clip-requirement.js';

const market: ClipRequirementFields = {
  channel: 'Larkpost Market',
  name: 'Listing clip',
  shapes: ['1:1', '4:5'],
  files: ['webm', 'mp4'],
  leastSeconds: 5,
  mostSeconds: 15,
  mostBytes: 5_000_000,
  leastSide: 720,
  sound: 'none',
};
const file: ReadClipFile = { seconds: 8, width: 1080, height: 1080, file: 'webm', bytes: 3e6, hasSound: false };

describe('a requirement for clips', () => {
  it('says before the making what it would refuse, and by how much', () => {
    const planned = { seconds: 8, shape: '1:1', hasSound: false } as const;
    expect(refusedBefore(market, planned)).toEqual([]);
    expect(refusedBefore(market, { ...planned, shape: '9:16' })).toEqual([
      'Its shape is tall; it must be square or upright.',
    ]);
    expect(refusedBefore(market, { ...planned, seconds: 17.5 })).toEqual(['It lasts 17.5 s, 2.5 s more than 15 s.']);
    expect(refusedBefore(market, { ...planned, seconds: 4 })).toEqual(['It lasts 4 s, 1 s less than 5 s.']);
    expect(refusedBefore(market, { ...planned, hasSound: true })).toEqual(['It has sound.']);
    expect(refusedBefore({ ...market, sound: 'needed' }, planned)).toEqual(['It has no sound.']);
    // A frame is forgiven.
    expect(refusedBefore(market, { ...planned, seconds: 15.04 })).toEqual([]);
  });

  it('judges a file by what was read in it', () => {
    expect(refusedAfter(market, file)).toEqual([]);
    expect(refusedAfter(market, { ...file, width: 864, height: 1080 })).toEqual([]);
    expect(refusedAfter(market, { ...file, width: 1080, height: 1920 })).toEqual([
      'Its shape is tall; it must be square or upright.',
    ]);
    expect(refusedAfter(market, { ...file, width: 1000, height: 300 })[0]).toContain('1000 × 300');
    expect(refusedAfter(market, { ...file, file: 'webp' })).toEqual(['It is Animated WebP; it must be WebM or MP4.']);
    expect(refusedAfter(market, { ...file, width: 600, height: 600 })).toEqual([
      'Its shorter side has 600 px; it must have at least 720.',
    ]);
    expect(refusedAfter(market, { ...file, bytes: 6_000_000 })[0]).toMatch(/^It has .* more than .*\.$/);
    // A picture that moves has no sound to miss.
    const loud = { ...market, files: ['webp'], sound: 'needed' } as const;
    expect(refusedAfter(loud, { ...file, file: 'webp' })).toEqual([]);
    expect(refusedAfter({ ...market, sound: 'needed' }, file)).toEqual(['It has no sound.']);
  });
});
