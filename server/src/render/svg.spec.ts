import { ProblemError } from '../safety/problem-error.js';
import { drawWholeSvg } from './source.js';
import { safeSvg } from './svg.js';

const bytes = (text: string): Buffer => Buffer.from(text);
const refusal = (text: string): string => { try { safeSvg(bytes(text)); return 'accepted'; } catch (error) { return error instanceof ProblemError ? error.code : String(error); } };

describe('an SVG', () => {
  it('loses its scripts and handlers, and that is said', () => {
    const svg = safeSvg(bytes('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10" onload="alert(1)"><script>alert(2)</script><rect width="5" height="5" onclick="x()"/></svg>'));
    expect(svg.text).not.toMatch(/script|alert|onload|onclick/);
    expect(svg.text).toContain('<rect');
    expect(svg.removed).toEqual(['A script was taken out.']);
  });

  it('reaches nothing outside itself', () => {
    const svg = safeSvg(bytes(`<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 9 9"><style>@import url(http://far.example/a.css); rect{fill:url('http://far.example/p.svg#a')}</style>
      <image href="http://far.example/p.png"/><image xlink:href="file:///etc/passwd"/><use href="#mine"/><rect fill="url(#mine)"/><image href="data:image/png;base64,AAAA"/><foreignObject><p>x</p></foreignObject></svg>`));
    expect(svg.text).not.toMatch(/far\.example|passwd|foreignObject/);
    expect(svg.text).toContain('href="#mine"');
    expect(svg.text).toContain('url(#mine)');
    expect(svg.text).toContain('data:image/png');
    expect(svg.removed).toContain('A reference to something outside the file was taken out.');
  });

  it('is refused with a sentence when it is a bomb, broken, foreign or has no size', () => {
    expect(refusal('<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg viewBox="0 0 1 1">&b;</svg>')).toBe('svg-entities');
    expect(refusal('<svg viewBox="0 0 1 1"><g></svg>')).toBe('svg-broken');
    expect(refusal('<html><body/></html>')).toBe('not-a-picture');
    expect(refusal('<svg><rect width="5" height="5"/></svg>')).toBe('svg-no-size');
    expect(refusal('<svg width="100%" height="50%"/>')).toBe('svg-no-size');
    expect(refusal(`<svg viewBox="0 0 1 1">${'<g/>'.repeat(200_001)}</svg>`)).toBe('svg-too-large');
  });

  it('has its size from width and height in any unit, or from its viewBox', () => {
    expect(safeSvg(bytes('<svg width="2in" height="1in"/>'))).toEqual(jasmine.objectContaining({ width: 192, height: 96 }));
    expect(safeSvg(bytes('<svg viewBox="0 0 30 20"/>'))).toEqual(jasmine.objectContaining({ width: 30, height: 20 }));
    expect(safeSvg(bytes('<svg width="60" viewBox="0 0 30 20"/>'))).toEqual(jasmine.objectContaining({ width: 60, height: 40 }));
  });

  it('is drawn at the size that is asked for, sharp', async () => {
    const svg = bytes('<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><rect x="5" width="5" height="10" fill="#f00"/></svg>');
    const { width, height, data } = await drawWholeSvg(svg, 1001, 1001);
    expect([width, height]).toEqual([1001, 1001]);
    // An edge at the middle of 1001 px falls into one column: left of it nothing, right of it pure red.
    const alpha = (x: number) => data[(500 * 1001 + x) * 4 + 3];
    expect([alpha(498), alpha(502)]).toEqual([0, 255]);
  });
});
