import { SELLER } from '../caller.js';
import { DEMO_DESIGNS, DEMO_REQUIREMENTS } from '@kettle/demo';
import type { SheetRow } from '@kettle/contract';
import { refuseRequirement } from '@kettle/contract';
import { demandedCanvas } from '@kettle/core';
import { loadDesigns, loadRequirements } from './load-demo.js';
import { testServer } from '../testing/test-house.js';
import type { RunningServer } from './server.js';

describe('the demo', () => {
  let server: RunningServer;
  let rows: readonly SheetRow[] = [];
  beforeAll(async () => {
    server = await testServer({ work: false });
    await loadRequirements(server.house);
    await loadDesigns(server.house);
    await loadDesigns(server.house);
    rows = (await server.house.sheet.sheet(SELLER)).rows;
  }, 60_000);
  afterAll(() => server.stop());
  const finding = (name: string, requirementId: string) =>
    rows.find((row) => row.name === name)?.cells.find((cell) => cell.requirementId === requirementId)?.finding;

  it('has six designs, once, and at least eight requirements of four channels in different shapes, DPI and modes', () => {
    expect(rows.map((row) => row.name)).toEqual(DEMO_DESIGNS.map((design) => design.name));
    expect(rows.length).toBe(6);
    expect(DEMO_REQUIREMENTS.length).toBeGreaterThanOrEqual(8);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.channel)).size).toBe(4);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.dpi)).size).toBeGreaterThanOrEqual(3);
    expect(new Set(DEMO_REQUIREMENTS.map((one) => one.mode))).toEqual(new Set(['rgb', 'grey', 'cmyk']));
    expect(
      new Set(
        DEMO_REQUIREMENTS.map((one) => {
          const { widthPx, heightPx } = demandedCanvas(one);
          return Math.round((10 * widthPx) / heightPx);
        }),
      ).size,
    ).toBeGreaterThanOrEqual(5);
  });

  it('keeps the rules it teaches', () => {
    for (const { id, ...fields } of DEMO_REQUIREMENTS) expect(refuseRequirement(fields)).withContext(id).toBeNull();
  });

  it('gives the findings something to say', () => {
    expect(finding('Cumulus Appreciation', 'larkpost-tee')).toBe('White box');
    expect(finding('Rain Gauge Regulars', 'larkpost-tee')).toBe('Soft print');
    expect(finding('Barometer Falling', 'hobnail-chest')).toBe('Vanishes on Soot');
    expect(finding('Mostly Drizzle', 'larkpost-tee')).toBeNull();
  });

  it('waits with its print files until a worker is there', async () => {
    const states = new Set((await server.house.jobs.lively(60)).map(({ job }) => job.state));
    expect(states).toEqual(new Set(['queued']));
    expect(rows.every((row) => row.cells.every((cell) => cell.state !== 'ready'))).toBeTrue();
  });
});
