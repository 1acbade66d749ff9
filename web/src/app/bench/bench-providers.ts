import { Arranging } from './arranging';
import { Bench } from './bench';
import { DesignDesk } from './design-desk';
import { Maker } from './maker';
import { Measuring } from './measuring';
import { Mending } from './mending';
import { Tools } from './tools';
import { PressProof } from '../proof/press-proof';
import { Typesetter } from './typesetter';

/** What belongs to one open design. */
export const BENCH_PROVIDERS = [DesignDesk, Bench, Tools, Maker, Mending, Arranging, Typesetter, Measuring, PressProof];
