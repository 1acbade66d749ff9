import { CURRENCIES } from '@kettle/core/listing';
import { pick, type Setting } from '../units/settings';

export const currencyPick = (chosen: string, set: (code: string) => void, label = 'Currency'): Setting =>
  pick(label, chosen, { of: CURRENCIES.map(({ code, name }) => ({ id: code, words: `${name} (${code})` })), set });
