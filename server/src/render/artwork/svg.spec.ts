import { ProblemError } from '../../floor/basics/problem-error.js';
import { drawWholeSvg } from './source.js';
import { safeSvg } from './svg.js';

const bytes = (text: string): Buffer => Buffer.from(text);
const refusal = (text: string): string => {
  try {
    safeSvg(bytes(text));
    return 'accepted';
  } catch (error) {
    return error instanceof ProblemError ? error.code : String(error);
  }
};

describe('an SVG', () => {
  it('loses its scripts and handlers, and that is said', () => {
    const svg = safeSvg(
      bytes(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10" onload="alert(1)"><script>alert(2)</script><rect width="5" height="5" onclick="x()"/></svg>',
      ),
    );
    expect(svg.text).not.toMatch(/script|alert|onload|onclick/);
    expect(svg.text).toContain('<rect');
    expect(svg.removed).toEqual(['A script was taken out.']);
  });

  it('reaches nothing outside itself', () => {
    const svg = safeSvg(
      bytes(`<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 9 9"><style>@import url(http://far.example/a.css); rect{fill:url('http://far.example/p.svg#a')}</style>
      <image href="http://far.example/p.png"/><image xlink:href="file:///etc/passwd"/><use href="#mine"/><rect fill="url(#mine)"/><image href="data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="/><foreignObject><p>x</p></foreignObject></svg>`),
    );
    expect(svg.text).not.toMatch(/far\.example|passwd|foreignObject/);
    expect(svg.text).toContain('href="#mine"');
    expect(svg.text).toContain('url(#mine)');
    expect(svg.text).toContain('data:image/png');
    expect(svg.removed).toContain('A reference to something outside the file was taken out.');
  });

  it('is refused with a sentence when it is a bomb, broken, foreign or has no size', () => {
    expect(refusal('<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg viewBox="0 0 1 1">&b;</svg>')).toBe(
      'svg-entities',
    );
    expect(refusal('<svg viewBox="0 0 1 1"><g></svg>')).toBe('svg-broken');
    expect(refusal('<html><body/></html>')).toBe('not-a-picture');
    expect(refusal('<svg><rect width="5" height="5"/></svg>')).toBe('svg-no-size');
    expect(refusal('<svg width="100%" height="50%"/>')).toBe('svg-no-size');
    expect(refusal(`<svg viewBox="0 0 1 1">${'<g/>'.repeat(200_001)}</svg>`)).toBe('svg-too-large');
  });

  it('hides nothing from the reader that draws it: comments, escapes, prefixes and encodings', () => {
    const hidden: [string, RegExp][] = [
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style>@im<!-- -->port url(http://far.example/a.css); rect{fill:red}</style><rect/></svg>',
        /far\.example|import/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style>@\\69mport "http://far.example/a.css"; rect{fill:u\\72l(http://far.example/x)}</style></svg>',
        /far\.example/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style><![CDATA[rect{fill:url(/*x*/http://far.example/x)}]]></style></svg>',
        /far\.example/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect style="fill:url( \'http://far.example/x\' )"/><rect fill="url(http://far.example/y)"/></svg>',
        /far\.example/,
      ],
      [
        '<s:svg xmlns:s="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><s:script>alert(1)</s:script><s:image xmlns:l="http://www.w3.org/1999/xlink" l:href="http://far.example/p.png"/></s:svg>',
        /alert|far\.example/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><x:script xmlns:x="http://www.w3.org/2000/svg">alert(1)</x:script><g xmlns="http://www.w3.org/1999/xhtml"><script>alert(2)</script></g></svg>',
        /alert/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><image href="data:image/svg+xml;base64,PHN2Zy8+"/><image href="jar:file:///etc/passwd"/><use href="other.svg#a"/></svg>',
        /svg\+xml|passwd|other/,
      ],
      [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style>@font-face{font-family:x;src:url(data:font/woff;base64,AAAA)}</style><feImage href="http://far.example/p.png"/></svg>',
        /font-face|far\.example/,
      ],
    ];
    for (const [text, wrong] of hidden)
      expect(safeSvg(bytes(text)).text)
        .withContext(text)
        .not.toMatch(wrong);
    expect(
      safeSvg(
        Buffer.from(
          '\ufeff<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><script>alert(1)</script></svg>',
          'utf16le',
        ),
      ).text,
    ).not.toContain('alert');
  });

  it('keeps what draws: styles, gradients, pictures by their content, and the short entities of drawing programs', () => {
    const png = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
    const { text, removed } = safeSvg(
      bytes(`<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "svg11.dtd" [<!ENTITY ns_svg "http://www.w3.org/2000/svg"><!ENTITY ink "#b4532a">]>
      <svg xmlns="&ns_svg;" xmlns:sodipodi="http://sodipodi.example/" viewBox="0 0 9 9" sodipodi:version="1"><sodipodi:namedview/><metadata><x/></metadata><style>.a{fill:&ink;;stroke-width:.5pt}</style>
      <linearGradient id="g"><stop offset="0" stop-color="red"/></linearGradient><rect class="a" style="fill:url(#g);stroke:#000"/><image href="data:;base64,${png}"/><image href="data:image/jpeg;base64,${png}"/></svg>`),
    );
    expect(text).toContain('.a{fill:#b4532a');
    expect(text).toContain('stroke-width:.5pt');
    expect(text).toContain('fill:url(#g)');
    expect(text.match(/data:image\/png;base64/g)?.length).toBe(2);
    expect(text).not.toMatch(/sodipodi|metadata/);
    expect(removed).toEqual([]);
  });

  it('is refused before it can keep a machine busy', () => {
    const svg = (inside: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">${inside}</svg>`;
    const begun = process.cpuUsage();
    expect(refusal(svg(`<text>${'kettle '.repeat(400_000)}</text>`))).toBe('svg-too-large');
    expect(
      refusal(svg(`<filter id="f">${'<feFlood result="a"/>'.repeat(3000)}</filter><rect filter="url(#f)"/>`)),
    ).toBe('svg-too-large');
    expect(refusal(svg('<rect filter="url(#f)"/>'.repeat(2000)))).toBe('svg-too-large');
    expect(refusal(svg(`${'<g>'.repeat(4000)}${'</g>'.repeat(4000)}`))).toBe('svg-too-large');
    const bomb = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJ', 'base64');
    bomb.writeUInt32BE(40_000, 16);
    bomb.writeUInt32BE(40_000, 20);
    expect(refusal(svg(`<image href="data:image/png;base64,${bomb.toString('base64')}"/>`))).toBe('svg-too-large');
    // What made expressions over text run for most of a minute.
    for (const text of [
      `<style>${'url('.repeat(40_000)}</style>`,
      `<rect style="${'url( '.repeat(40_000)}"/>`,
      `<style>${'@import'.repeat(20_000)}</style>`,
      `<rect fill="url(${' '.repeat(100_000)}"/>`,
    ])
      refusal(svg(text));
    expect((process.cpuUsage(begun).user + process.cpuUsage(begun).system) / 1e6)
      .withContext('seconds of processor')
      .toBeLessThan(20);
  });

  it('with live text says so, and which fonts it asks for', () => {
    const svg = (inside: string, options = {}) =>
      safeSvg(bytes(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 99 99">${inside}</svg>`), options);
    expect(svg('<style>.t{font-family:"Open Sans",Arial,sans-serif}</style><text class="t" y="9">Fog</text>')).toEqual(
      jasmine.objectContaining({ liveText: true, fonts: ['Open Sans', 'Arial'] }),
    );
    expect(
      svg(
        '<text font-family="Kettle Hand" y="9">Fog<tspan style="font:italic bold 12px/1.2 Drizzle, serif">!</tspan></text>',
      ).fonts,
    ).toEqual(['Kettle Hand', 'Drizzle']);
    expect(svg('<style>.t{font-family:Arial}</style><text class="t"> </text><path d="M0 0"/>')).toEqual(
      jasmine.objectContaining({ liveText: false, fonts: [] }),
    );
    const set = svg('<text font-family="Arial" y="9">Fog</text>', { face: 'Anton' });
    expect(set.fonts).toEqual(['Anton']);
    expect(safeSvg(bytes(set.text)).fonts).toEqual(['Anton']);
    const styled = svg(
      '<style>.t{font:bold 12px/1.2 "Open Sans", serif;fill:red}</style><text class="t" style="font-family:Arial">Fog</text>',
      { face: 'Anton' },
    );
    expect(styled.text).toContain('bold 12px/1.2');
    expect(safeSvg(bytes(styled.text)).fonts).toEqual(['Anton']);
  });

  it('has its size from width and height in any unit, or from its viewBox', () => {
    expect(safeSvg(bytes('<svg width="2in" height="1in"/>'))).toEqual(
      jasmine.objectContaining({ width: 192, height: 96 }),
    );
    expect(safeSvg(bytes('<svg viewBox="0 0 30 20"/>'))).toEqual(jasmine.objectContaining({ width: 30, height: 20 }));
    expect(safeSvg(bytes('<svg width="60" viewBox="0 0 30 20"/>'))).toEqual(
      jasmine.objectContaining({ width: 60, height: 40 }),
    );
  });

  it('is drawn at the size that is asked for, sharp', async () => {
    const svg = bytes(
      '<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><rect x="5" width="5" height="10" fill="#f00"/></svg>',
    );
    const { width, height, data } = await drawWholeSvg(svg, 1001, 1001);
    expect([width, height]).toEqual([1001, 1001]);
    // An edge at the middle of 1001 px falls into one column: left of it nothing, right of it pure red.
    const alpha = (x: number) => data[(500 * 1001 + x) * 4 + 3];
    expect([alpha(498), alpha(502)]).toEqual([0, 255]);
  });
});
