import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { DesignDesk } from '../editor/design-desk';
import { Maker } from '../editor/maker';
import { Measuring } from '../editor/measuring';
import { Mending } from '../checks/mending';
import { Tools } from '../editor/tools';
import { PressProof } from '../proof/press-proof';
import { Typesetter } from '../editor/typesetter';

/** What belongs to one open design. */
export const EDITOR_PROVIDERS = [
  DesignDesk,
  Editor,
  Tools,
  Maker,
  Mending,
  Arranging,
  Typesetter,
  Measuring,
  PressProof,
];
