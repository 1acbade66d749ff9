import type { MusicTrack } from '@kettle/core/clip';
import { serverForAll } from '../testing/test-house.js';

/** A WAV of a tone, 8 bits, one channel, 8000 Hz. */
function wav(seconds: number): Buffer {
  const length = Math.round(seconds * 8000);
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + length, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(8000, 24);
  head.writeUInt32LE(8000, 28);
  head.writeUInt16LE(1, 32);
  head.writeUInt16LE(8, 34);
  head.write('data', 36);
  head.writeUInt32LE(length, 40);
  const samples = Buffer.alloc(length, Buffer.from([128, 200, 230, 200, 128, 56, 26, 56]));
  return Buffer.concat([head, samples]);
}

describe('music', () => {
  const { server, call } = serverForAll();
  const send = (bytes: Buffer, name: string) =>
    call('POST', '/api/music', bytes, {
      'Content-Type': 'application/octet-stream',
      'X-Filename': encodeURIComponent(name),
    });
  const tracks = async () => (await call('GET', '/api/music')).body as MusicTrack[];
  const own = async () => (await tracks()).filter((one) => one.own);

  it('ships with beats, each a file that can be played', async () => {
    const shipped = (await tracks()).filter((one) => !one.own);
    expect(shipped.length).toBe(6);
    for (const { id, loopStart, loopEnd, durationSeconds } of shipped) {
      expect(loopStart).toBeLessThan(loopEnd);
      expect(loopEnd).toBeLessThanOrEqual(durationSeconds);
      const answer = await fetch(`${server.address}/api/music/${id}/content`);
      expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'audio/ogg']);
      expect(Buffer.from(await answer.arrayBuffer()).toString('latin1', 0, 4)).toBe('OggS');
    }
    expect((await call('GET', '/api/music/none/content')).status).toBe(404);
  });

  it('of one’s own is taken in, named after its file, played, given its beats, and taken off the list', async () => {
    const bytes = wav(3);
    const { status, body } = await send(bytes, '50% rain.wav');
    expect(status).withContext(JSON.stringify(body)).toBe(201);
    const track = body as MusicTrack;
    expect(track).toEqual(
      jasmine.objectContaining({ title: '50% rain', mood: 'own', tempo: null, beats: null, own: true, loopStart: 0 }),
    );
    expect(track.durationSeconds).toBeCloseTo(3, 2);
    const content = await fetch(`${server.address}/api/music/${track.id}/content`);
    expect(content.headers.get('content-type')).toBe('audio/wav');
    expect(Buffer.compare(Buffer.from(await content.arrayBuffer()), bytes)).toBe(0);
    // The same bytes again are the same piece.
    expect((await send(bytes, 'other.wav')).body.id).toBe(track.id);

    const changed = await call('PUT', `/api/music/${track.id}`, { title: 'Rain', bpm: 96, firstBeat: 0.25 });
    expect(changed.body).toEqual(jasmine.objectContaining({ title: 'Rain', tempo: 96 }));
    expect((changed.body as MusicTrack).beats).toEqual({ bpm: 96, offset: 0.25, perBar: 4 });
    expect((await call('PUT', `/api/music/${track.id}`, { title: '', bpm: 9000, firstBeat: null })).status).toBe(422);
    expect((await call('PUT', '/api/music/none', { title: 'x', bpm: null, firstBeat: null })).status).toBe(404);

    expect((await call('DELETE', `/api/music/${track.id}`)).status).toBe(204);
    expect(await own()).toEqual([]);
    expect((await call('DELETE', `/api/music/${track.id}`)).status).toBe(404);
    // A clip that has it keeps it; the same file brings it back.
    expect((await call('GET', `/api/music/${track.id}`)).body).toEqual(jasmine.objectContaining({ title: 'Rain' }));
    expect((await call('GET', '/api/music/puddle-census')).body).not.toEqual(
      jasmine.objectContaining({ file: jasmine.anything() }),
    );
    expect((await call('GET', '/api/music/none')).status).toBe(404);
    expect((await fetch(`${server.address}/api/music/${track.id}/content`)).status).toBe(200);
    expect((await send(bytes, 'again.wav')).body.id).toBe(track.id);
    expect((await own()).map(({ title }) => title)).toEqual(['Rain']);
  });

  it('that is none, is broken, hardly there or far too long is refused in a sentence', async () => {
    const before = (await own()).length;
    const refused = async (bytes: Buffer) => {
      const { status, body } = await send(bytes, 'x.mp3');
      return [status, (body as { detail: string }).detail];
    };
    expect(await refused(Buffer.from('<svg/>'))).toEqual([422, jasmine.stringContaining('WAV, FLAC, Ogg or MP3')]);
    expect(await refused(Buffer.alloc(0))).toEqual([422, jasmine.stringContaining('WAV, FLAC, Ogg or MP3')]);
    expect(await refused(wav(0.1))).toEqual([422, jasmine.stringContaining('hardly any sound')]);
    expect(await refused(wav(3600))).toEqual([422, jasmine.stringContaining('60 minutes')]);
    expect((await own()).length).toBe(before);
  });
});
