import type { Requirement } from '@kettle/core/model';
import type { PictureSet } from '@kettle/core/mockup';
import type { ClipRequirement } from '@kettle/core/clip';
import type { ChannelRules } from '@kettle/core/listing';
import type { PrintShop } from '@kettle/core/orders';
import { clipRequirementFields } from '../clip-schema.js';
import { channelRulesFields } from '../listing-schema.js';
import { printShopFields } from '../orders-schema.js';
import { pictureSetFields } from '../picture-set-schema.js';
import { schemaOf } from '../proved.js';
import { requirementFields } from '../requirement-schema.js';
import type { ImportPlan } from '../requirement-table.js';
import { KEPT, OWN, record, told } from '../told.js';

export const requirementAnswerSchema = schemaOf<Requirement>()(requirementFields.shape(KEPT));
export const clipRequirementAnswerSchema = schemaOf<ClipRequirement>()(clipRequirementFields.shape(OWN));
export const pictureSetAnswerSchema = schemaOf<PictureSet>()(pictureSetFields.shape(OWN));
export const channelRulesAnswerSchema = schemaOf<ChannelRules>()(channelRulesFields.shape(OWN));
export const printShopAnswerSchema = schemaOf<PrintShop>()(printShopFields.shape(OWN));

/** What taking in a table of requirements would do. */
export const importPlanSchema = schemaOf<ImportPlan>()(
  record({
    rows: told.list(
      record({
        row: told.whole(),
        channel: told.text(),
        name: told.text(),
        state: told.oneOf('new', 'changed', 'same'),
        changes: told.list(record({ column: told.text(), from: told.text(), to: told.text() })),
      }),
    ),
    faults: told.list(record({ row: told.whole(), column: told.text(), sentence: told.text() })),
  }),
);
