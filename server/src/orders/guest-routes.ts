import { interestSchema } from '@kettle/contract';
import { moneyText } from '@kettle/core/listing';
import { MOST_OF_ONE, type InterestFields } from '@kettle/core/orders';
import { randomUUID } from 'node:crypto';
import { Router, urlencoded, type Request, type Response } from 'express';
import { ValidationError } from 'yup';
import type { Floor } from '../floor/floor.js';
import type { OrderRoom } from './room.js';
import { sendFile } from '../floor/http/handler.js';
import type { StoredPrintRun } from './print-run-store.js';
import type { guestGuards } from '../floor/http/guest-guards.js';
import { guestPage } from '../floor/http/guest-page.js';

const MOST_FORM = '16kb';

/** What stands in the form: as it was sent, when it was refused. */
type Given = Readonly<Partial<Record<'name' | 'contact' | 'size' | 'colour' | 'copies', unknown>>>;

/** The public page on which people say that they want one: in front of the gate, under a link like the client's. */
export function interestRoutes(
  { printRuns, blobs }: Pick<Floor, 'blobs'> & OrderRoom,
  { say }: ReturnType<typeof guestGuards>,
): Router {
  const router = Router();
  const form = urlencoded({ extended: false, limit: MOST_FORM, parameterLimit: 20 });

  async function found(request: Request, response: Response): Promise<StoredPrintRun | null> {
    const run = await printRuns.byLink(String(request.params['token']));
    if (run) return run;
    const sentence = 'The page was taken away, or the link was not copied whole. Ask whoever sent it to you.';
    response
      .status(404)
      .type('html')
      .send(guestPage('message', { title: 'There is nothing here', sentence }));
    return null;
  }

  async function html(
    run: StoredPrintRun,
    more: { told?: string; back?: string; wrong?: string; given?: Given },
  ): Promise<string> {
    const { given = {}, ...said } = more;
    const text = (field: keyof Given): string => (typeof given[field] === 'string' ? given[field] : '');
    const copies = run.interests.reduce((sum, one) => sum + one.copies, 0);
    const missing = run.worthFrom - copies;
    return guestPage('interest', {
      ...said,
      title: run.name,
      note: run.note,
      missingSentence:
        run.state === 'open' && missing > 0
          ? `It is printed once ${run.worthFrom} are wanted; ${missing} ${missing === 1 ? 'is' : 'are'} missing.`
          : run.state === 'open'
            ? 'Enough are wanted: it will be printed.'
            : '',
      open: run.state === 'open',
      action: `/i/${run.token}`,
      form: randomUUID(),
      most: MOST_OF_ONE,
      price: moneyText(run.price, run.currency),
      sizes: run.sizes.map((name) => ({ name, chosen: name === text('size') })),
      colours: run.colours.map(({ name }) => ({ name, chosen: name === text('colour') })),
      copies: text('copies') || '1',
      name: text('name'),
      contact: text('contact'),
      pictures: (await printRuns.shownOf(run)).map(({ id, alt }) => ({ src: `/i/${run.token}/pictures/${id}`, alt })),
    });
  }

  router.get('/:token', async (request, response) => {
    const run = await found(request, response);
    if (!run) return;
    const back = request.query['back'];
    response.type('html').send(
      await html(run, {
        ...('told' in request.query ? { told: 'Thank you, you are counted in.' } : {}),
        ...('gone' in request.query ? { told: 'That was taken back; nothing of you is kept.' } : {}),
        ...(typeof back === 'string' && back ? { back: `/i/${run.token}/back/${encodeURIComponent(back)}` } : {}),
      }),
    );
  });

  router.get('/:token/pictures/:id', async (request, response) => {
    const run = await found(request, response);
    if (!run) return;
    const picture = await printRuns.shownPicture(run, String(request.params['id']));
    sendFile(response, await blobs.localPath(picture.sha256), { type: picture.mediaType, tag: picture.sha256 });
  });

  router.post('/:token', say, form, async (request, response) => {
    const run = await found(request, response);
    if (!run) return;
    const given = (request.body ?? {}) as Record<string, unknown>;
    // A field that people do not see: who fills it in is a machine, and is told nothing of that.
    if (given['website']) {
      response.redirect(303, `/i/${run.token}?told`);
      return;
    }
    const refuse = async (wrong: string): Promise<void> => {
      response
        .status(422)
        .type('html')
        .send(await html(run, { wrong, given }));
    };
    let interest: InterestFields;
    try {
      interest = await interestSchema.validate(
        {
          name: given['name'],
          contact: given['contact'] ?? '',
          size: given['size'],
          colour: given['colour'],
          copies: Number(given['copies']),
          deposit: 0,
        },
        { stripUnknown: true },
      );
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      await refuse(error.message);
      return;
    }
    const number = String(given['form'] ?? '');
    if (!/^[\w-]{8,36}$/.test(number)) {
      await refuse('Open the page again, then send it once more.');
      return;
    }
    const entered = await printRuns.enter(run, number, interest);
    if ('wrong' in entered) await refuse(entered.wrong);
    else response.redirect(303, `/i/${run.token}?told${entered.back ? `&back=${entered.back}` : ''}`);
  });

  // Looking at the link changes nothing: programs that follow links for people would take things back for them.
  router.get('/:token/back/:back', async (request, response) => {
    const run = await found(request, response);
    if (!run) return;
    response.type('html').send(
      guestPage('message', {
        title: 'Take it back?',
        sentence: 'You are taken off the list, and your name and how to reach you are erased.',
        action: `/i/${run.token}/back/${encodeURIComponent(String(request.params['back']))}`,
        button: 'Take it back',
        back: `/i/${run.token}`,
      }),
    );
  });
  router.post('/:token/back/:back', say, async (request, response) => {
    const run = await found(request, response);
    if (!run) return;
    if (await printRuns.takeBack(run, String(request.params['back']))) response.redirect(303, `/i/${run.token}?gone`);
    else
      response
        .status(404)
        .type('html')
        .send(
          guestPage('message', {
            title: 'Nothing was taken back',
            sentence: 'It was taken back before, or the print is closed by now: write to the seller then.',
            back: `/i/${run.token}`,
          }),
        );
  });
  return router;
}
