import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import Handlebars from 'handlebars';

/** Pages that guests see. */
export type GuestPage = 'client' | 'interest' | 'message' | 'pass';

const FOLDER = fileURLToPath(new URL('../../../pages', import.meta.url));
const templates = Handlebars.create();
templates.registerHelper('one', (of: unknown) => Array.isArray(of) && of.length === 1);

const compiled = (name: string): Handlebars.TemplateDelegate =>
  templates.compile(readFileSync(`${FOLDER}/${name}.hbs`, 'utf8'), { strict: false });
const frame = compiled('frame');
const pages: Readonly<Record<GuestPage, Handlebars.TemplateDelegate>> = {
  client: compiled('client'),
  interest: compiled('interest'),
  message: compiled('message'),
  pass: compiled('pass'),
};

/** A page as HTML. Everything that is put into it is text: what looks like markup is shown as it was written. */
export const guestPage = (
  page: GuestPage,
  data: { readonly title: string } & Readonly<Record<string, unknown>>,
): string => frame({ title: data.title, body: pages[page](data) });

/** Files of the pages: their style, their script, their mark. */
export const GUEST_FILES = ['guest.css', 'guest.js', 'mark.svg'] as const;
export const guestFile = (name: (typeof GUEST_FILES)[number]): string => `${FOLDER}/${name}`;

const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' });
const moment = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short', timeZone: 'UTC' });
export const dayText = (at: Date | string): string => day.format(new Date(at));
export const momentText = (at: Date | string): string => `${moment.format(new Date(at))} UTC`;
