import type { Page } from '@playwright/test';

/** What the worker that makes a clip is heard on. */
const CHANNEL = 'bench-encoding-alone';

/**
 * Has the frames of every clip that a tab makes encoded a second time, alone: the very frames, by an encoder set up as theirs
 * was, in the same worker, once all of them are drawn. Only that is timed. For a tab that has not opened the application yet.
 */
export async function encodesTwice(page: Page): Promise<void> {
  await page.route(/\/worker-[^/]+\.js$/, async (route) => {
    const response = await route.fetch();
    await route.fulfill({ response, body: `(${encodeAgain})('${CHANNEL}');\n${await response.text()}` });
  });
}

/** @param make makes a clip in a tab that encodes twice @returns what encoding its frames alone took, ms */
export async function encodedAlone(page: Page, make: () => Promise<unknown>): Promise<number> {
  const heard = page.evaluate(
    (name) =>
      new Promise<number>((resolve) => {
        const channel = new BroadcastChannel(name);
        channel.onmessage = ({ data }: MessageEvent<number>) => {
          channel.close();
          resolve(data);
        };
      }),
    CHANNEL,
  );
  await make();
  return heard;
}

/** Runs in the worker. */
function encodeAgain(name: string): void {
  if (typeof VideoEncoder === 'undefined') return;
  // The encoder's own methods, not what stands in for them below.
  const { configure, encode, flush } = VideoEncoder.prototype;
  const drawn: { frame: VideoFrame; options?: VideoEncoderEncodeOptions }[] = [];
  let config: VideoEncoderConfig | undefined;
  VideoEncoder.prototype.configure = function (given) {
    config = given;
    configure.call(this, given);
  };
  VideoEncoder.prototype.encode = function (frame, options) {
    drawn.push({ frame: frame.clone(), options });
    encode.call(this, frame, options);
  };
  VideoEncoder.prototype.flush = async function () {
    await flush.call(this);
    const start = performance.now();
    const alone = new VideoEncoder({ output: () => undefined, error: () => undefined });
    configure.call(alone, config!);
    for (const { frame, options } of drawn) {
      encode.call(alone, frame, options);
      frame.close();
      if (alone.encodeQueueSize > 4)
        await new Promise((resolve) => alone.addEventListener('dequeue', resolve, { once: true }));
    }
    await flush.call(alone);
    const took = performance.now() - start;
    const channel = new BroadcastChannel(name);
    channel.postMessage(took);
    channel.close();
  };
}
