import type { Database } from '../floor/database/database.js';
import { endWhatWaits } from '../floor/queue/left-waiting.js';
import type { Duty } from './duty.js';

/** How long what is over stays, in days. */
export const KEPT_DAYS = {
  runs: 14,
  everyRevision: 1,
  hourlyRevisions: 30,
  removedDesigns: 30,
  unusedArtwork: 90,
  unusedFonts: 90,
  treatedPictures: 60,
  looseFiles: 1,
  packages: 730,
  pressMeasures: 90,
  idleSessions: 30,
} as const;
/** Most finished runs that stay, however young they are. */
const MOST_RUNS = 20_000;
/** Most of its own notes that stay. */
const MOST_NOTES = 1000;
const AT_ONCE = 200;

const before = (days: number): string => `DATE_SUB(CURRENT_TIMESTAMP(3), INTERVAL ${days} DAY)`;
const OVER = "state IN ('done', 'failed', 'cancelled')";
const NOT_OVER = "state IN ('waiting', 'queued', 'paused', 'running')";
const many = (n: number, one: string, several = `${one}s`): string => `${n} ${n === 1 ? one : several}`;

const byAge: Duty = {
  name: 'runs by age',
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(
      `DELETE FROM batch WHERE ${OVER} AND changed_at < ${before(KEPT_DAYS.runs)} ORDER BY changed_at LIMIT ${AT_ONCE}`,
    ),
  said: (n) => `${many(n, 'run')} that ended more than ${KEPT_DAYS.runs} days ago are no longer listed.`,
};

const byNumber: Duty = {
  name: 'runs by number',
  atOnce: AT_ONCE,
  async run(database) {
    const [edge] = await database.rows<{ changed_at: Date }>(
      `SELECT changed_at FROM batch WHERE ${OVER} ORDER BY changed_at DESC LIMIT 1 OFFSET ${MOST_RUNS}`,
    );
    return edge
      ? database.change(`DELETE FROM batch WHERE ${OVER} AND changed_at <= ? ORDER BY changed_at LIMIT ${AT_ONCE}`, [
          edge.changed_at,
        ])
      : 0;
  },
  said: (n) => `${many(n, 'run')} beyond the ${MOST_RUNS} newest are no longer listed.`,
};

/**
 * Designs and revisions that steps name which are not over: those that wait, those of a held run, and those of runs of
 * several designs too.
 */
const NAMED = `SELECT JSON_VALUE(payload, '$.designId'), CAST(JSON_VALUE(payload, '$.revision') AS UNSIGNED) FROM job
  WHERE ${NOT_OVER}
    AND JSON_VALUE(payload, '$.designId') IS NOT NULL AND JSON_VALUE(payload, '$.revision') IS NOT NULL`;

/**
 * Of the revisions of some designs, those that thinning leaves out: named ones, those that something was made from or
 * is being made from, and the newest stay.
 */
const THINNED = `SELECT design_id, revision FROM (
    SELECT r.design_id, r.revision, r.name, d.revision AS newest, ROW_NUMBER() OVER (
      PARTITION BY r.design_id, IF(r.saved_at > ${before(KEPT_DAYS.hourlyRevisions)}, DATE_FORMAT(r.saved_at, '%Y%m%d%H'), DATE_FORMAT(r.saved_at, '%Y%m%d'))
      ORDER BY r.revision DESC) AS place
    FROM design_revision r JOIN design d ON d.id = r.design_id
    WHERE r.design_id IN (?) AND r.saved_at < ${before(KEPT_DAYS.everyRevision)}) aged
  WHERE place > 1 AND revision < newest AND name IS NULL
    AND NOT EXISTS (SELECT 1 FROM output o WHERE o.design_id = aged.design_id AND o.revision = aged.revision)
    AND (design_id, revision) NOT IN (${NAMED})`;

const revisions: Duty = {
  name: 'revisions',
  atOnce: Infinity,
  async run(database) {
    let [after, ended] = ['', 0];
    for (;;) {
      const ids = (
        await database.rows<{ id: string }>('SELECT id FROM design WHERE id > ? ORDER BY id LIMIT 100', [after])
      ).map((row) => row.id);
      if (!ids.length) return ended;
      after = ids.at(-1)!;
      const gone = await database.rowsOnce<{ design_id: string; revision: number }>(THINNED, [ids]);
      for (let from = 0; from < gone.length; from += AT_ONCE) {
        const some = gone.slice(from, from + AT_ONCE);
        await database.rowsOnce('DELETE FROM design_revision WHERE name IS NULL AND (design_id, revision) IN (?)', [
          some.map((row) => [row.design_id, row.revision]) as never,
        ]);
      }
      ended += gone.length;
    }
  },
  said: (n) =>
    `${many(n, 'revision')} older than a day gave way to the last of each hour, or of each day after ${KEPT_DAYS.hourlyRevisions} days. Named ones and those that files were made from stay.`,
};

/** Rows that stand for a stretch of revisions of which none is left. */
const stretches = (table: 'design_part' | 'design_use', name: string): Duty => ({
  name,
  atOnce: Infinity,
  run: (database) =>
    database.change(
      `DELETE s FROM ${table} s
       WHERE NOT EXISTS (SELECT 1 FROM design_revision r WHERE r.design_id = s.design_id
         AND r.revision BETWEEN s.first_revision AND s.last_revision)`,
    ),
  said: (n) => `${many(n, 'mention')} in revisions that are gone are forgotten.`,
});

const parts: Duty = {
  name: 'parts of documents',
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(
      `DELETE FROM document_part WHERE touched_at < ${before(1)}
         AND NOT EXISTS (SELECT 1 FROM design_part d WHERE d.sha256 = document_part.sha256)
       ORDER BY touched_at LIMIT ${AT_ONCE}`,
    ),
  said: (n) => `${many(n, 'part')} of documents that no revision has any more are gone.`,
};

const removedDesigns: Duty = {
  name: 'removed designs',
  atOnce: 20,
  async run(database) {
    const gone = await database.rows<{ id: string }>(
      `SELECT id FROM design d WHERE deleted_at < ${before(KEPT_DAYS.removedDesigns)}
         AND id NOT IN (SELECT JSON_VALUE(payload, '$.designId') FROM job
           WHERE ${NOT_OVER} AND JSON_VALUE(payload, '$.designId') IS NOT NULL)
       LIMIT 20`,
    );
    for (const { id } of gone) {
      await database.transaction(async (within) => {
        // One that came back in this moment stays.
        const [still] = await within.rows('SELECT id FROM design WHERE id = ? AND deleted_at IS NOT NULL FOR UPDATE', [
          id,
        ]);
        if (!still) return;
        await within.change('DELETE FROM output WHERE design_id = ?', [id]);
        await within.change('DELETE FROM batch WHERE design_id = ?', [id]);
        await within.change('DELETE FROM design WHERE id = ?', [id]);
      });
    }
    return gone.length;
  },
  said: (n) =>
    `${many(n, 'design')} that were taken off the sheet more than ${KEPT_DAYS.removedDesigns} days ago are gone with their files.`,
};

/** Things of a seller's that no kept revision of any design uses. */
const unused = (table: 'asset' | 'font', kind: string, condition: string, days: number): Duty => ({
  name: `unused ${kind}`,
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(
      `DELETE FROM ${table} WHERE ${condition} < ${before(days)}
         AND NOT EXISTS (SELECT 1 FROM design_use u WHERE u.kind = '${table}' AND u.id = ${table}.id)
         AND NOT EXISTS (SELECT 1 FROM blank_pack p WHERE p.asset_id = ${table}.id) LIMIT ${AT_ONCE}`,
    ),
  said: (n) => `${n} ${kind} older than ${days} days that no design uses are gone.`,
});

/** What can be worked out again, and nobody has looked at for so many days. */
const unlooked = (name: string, table: string, days: number, one: string): Duty => ({
  name,
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(`DELETE FROM ${table} WHERE used_at < ${before(days)} ORDER BY used_at LIMIT ${AT_ONCE}`),
  said: (n) => `What was known of ${many(n, one)} that nobody looked at for ${days} days is gone.`,
});

const files: Duty = {
  name: 'loose files',
  atOnce: AT_ONCE,
  run: (database: Database) =>
    database.change(
      `DELETE FROM blob_file WHERE created_at < ${before(KEPT_DAYS.looseFiles)}
       AND NOT EXISTS (SELECT 1 FROM asset a WHERE a.sha256 = blob_file.sha256 OR a.outlined = blob_file.sha256) AND NOT EXISTS (SELECT 1 FROM output o WHERE o.sha256 = blob_file.sha256)
       AND NOT EXISTS (SELECT 1 FROM font f WHERE f.sha256 = blob_file.sha256) AND NOT EXISTS (SELECT 1 FROM blank_file b WHERE b.sha256 = blob_file.sha256)
       AND NOT EXISTS (SELECT 1 FROM music m WHERE m.sha256 = blob_file.sha256) AND NOT EXISTS (SELECT 1 FROM icc_profile i WHERE i.sha256 = blob_file.sha256) AND NOT EXISTS (SELECT 1 FROM package_file k WHERE k.sha256 = blob_file.sha256)
       AND NOT EXISTS (SELECT 1 FROM shop_file s WHERE s.sha256 = blob_file.sha256) AND NOT EXISTS (SELECT 1 FROM client_file c WHERE c.sha256 = blob_file.sha256)
     ORDER BY created_at LIMIT ${AT_ONCE}`,
    ),
  said: (n) => `${many(n, 'file')} that nothing names any more are gone.`,
};

const packages: Duty = {
  name: 'packages',
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(
      `DELETE FROM package WHERE made_at < ${before(KEPT_DAYS.packages)} ORDER BY made_at LIMIT ${AT_ONCE}`,
    ),
  said: (n) =>
    `${many(n, 'package')} older than ${KEPT_DAYS.packages} days are gone; their files are made again when they are wanted.`,
};

const sessions: Duty = {
  name: 'sessions',
  atOnce: AT_ONCE,
  run: (database) =>
    database.change(`DELETE FROM session WHERE seen_at < ${before(KEPT_DAYS.idleSessions)} LIMIT ${AT_ONCE}`),
  said: (n) => `${many(n, 'session')} that nobody used for ${KEPT_DAYS.idleSessions} days are over.`,
};

const notes: Duty = {
  name: 'notes',
  atOnce: Infinity,
  run: (database) =>
    database.change(
      `DELETE FROM keeper_note WHERE id <= (SELECT edge FROM (SELECT MAX(id) - ${MOST_NOTES} AS edge FROM keeper_note) newest)`,
    ),
  said: () => '',
};

const leftWaiting: Duty = {
  name: 'what waits for nothing',
  atOnce: 2 * AT_ONCE,
  run: (database) => endWhatWaits(database, AT_ONCE),
  said: (n) =>
    `${many(n, 'order or listing', 'orders and listings')} waited for a run that is over, and can be sent again.`,
};

/** Everything the keeper ends in the database, in an order in which one makes room for the next. */
export const DUTIES: readonly Duty[] = [
  leftWaiting,
  byAge,
  byNumber,
  removedDesigns,
  revisions,
  stretches('design_part', 'parts of revisions'),
  stretches('design_use', 'uses in revisions'),
  parts,
  unused('asset', 'artwork files', 'created_at', KEPT_DAYS.unusedArtwork),
  unused('font', 'fonts', 'deleted_at', KEPT_DAYS.unusedFonts),
  unlooked('treated pictures', 'treated_picture', KEPT_DAYS.treatedPictures, 'treated picture'),
  unlooked('measured prints', 'press_measure', KEPT_DAYS.pressMeasures, 'measured print'),
  packages,
  files,
  sessions,
  notes,
];
