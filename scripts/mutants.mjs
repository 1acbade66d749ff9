/**
 * One deliberate fault: what it is of, where, what stands there, what is put there, and the specs that should notice.
 */
const group = (of, file, spec, list, more = {}) =>
  list.map(([says, from, to]) => ({ of, file, spec, says, from, to, ...more }));

const QUEUE = 'server/dist/floor/queue/queue.spec.js server/dist/app/stores.spec.js';
const KEEPER = 'server/dist/keeper/keeper.spec.js';
const DIGEST = 'server/dist/documents/digest.spec.js';
const API = 'server/dist/app/api.spec.js server/dist/app/callers-fault.spec.js';

const TREATMENTS = 'server/dist/render/artwork/treatments.spec.js';
const GUESTS = 'server/dist/clients/guests.spec.js';
const PICTURES = 'server/dist/artwork/pictures.spec.js';

export const MUTANTS = [
  ...group('queue', 'server/src/floor/queue/job-store.ts', QUEUE, [
    [
      'a claim takes steps of newer engines',
      'kind = ? AND engine <= ? ORDER BY engine',
      'kind = ? AND ? >= 0 ORDER BY engine',
    ],
    [
      'two claimers wait for each other',
      'ORDER BY engine, id LIMIT 1 FOR UPDATE SKIP LOCKED',
      'ORDER BY engine, id LIMIT 1 FOR UPDATE',
    ],
    ['a silent worker is never taken over', 'lease_until < CURRENT_TIMESTAMP(3)', "lease_until < '2000-01-01'"],
    [
      'a living worker is robbed',
      "WHERE state = 'running' AND lease_until < CURRENT_TIMESTAMP(3)",
      "WHERE state = 'running' AND lease_until IS NOT NULL",
    ],
    ['tries are not counted', ': { ...row, attempts: row.attempts + 1 }', ': row'],
    [
      'a heartbeat of another worker counts',
      "SECOND) WHERE id = ? AND worker = ? AND state = 'running'`, [id, worker]",
      "SECOND) WHERE id = ? AND ? <> '' AND state = 'running'`, [id, worker]",
    ],
    [
      'a late worker overwrites the result',
      "WHERE id = ? AND worker = ? AND state = 'running'\", [state, resultId",
      "WHERE id = ? AND ? <> ''\", [state, resultId",
    ],
    ['failed steps count as done', "failed: state === 'failed' ? 1 : 0", 'failed: 0'],
    ['a later stage does not wait', "(step.stage ?? 0) === first ? 'queued' : 'waiting'", "'queued'"],
    [
      'a later stage never begins',
      "SET state = 'queued' WHERE batch_id = ? AND state = 'waiting' AND stage = ?",
      "SET state = 'waiting' WHERE batch_id = ? AND state = 'waiting' AND stage = ?",
    ],
    ['a later stage begins after a failure', 'if (!failed.length) {', 'if (true) {'],
    ['a later stage begins while a step is open', 'if (open.length)\n', 'if (false)\n'],
    [
      'a cancelled run goes on',
      "state IN ('waiting', 'queued', 'paused', 'running')\", [batchId]",
      "state IN ('waiting')\", [batchId]",
    ],
    ['progress is not kept', 'SET j.progress = ?', 'SET j.progress = 0 * ?'],
    [
      'a run is answered to anybody',
      '${BATCH} WHERE id = ? AND owner = ?`, [batchId, owner]',
      "${BATCH} WHERE id = ? AND ? <> ''`, [batchId, owner]",
    ],
    ['sentences of failed steps are lost', "LEFT(TRIM(CONCAT(message, ' ', ?)), 2000))", 'message)'],
  ]),
  ...group('queue', 'server/src/floor/queue/worker.ts', 'server/dist/making/make-step.spec.js', [
    ['payloads are not checked', 'if (wrong) {', 'if (false) {'],
  ]),
  ...group('queue', 'server/src/floor/queue/job-watch.ts', 'server/dist/making/make-step.spec.js', [
    ['events go to everybody', 'if (owner === who.owner)', 'if (true)'],
  ]),
  ...group('stores', 'server/src/designs/design-store.ts', `${DIGEST} ${QUEUE} server/dist/sheet/sheet.spec.js`, [
    [
      'a stale save overwrites',
      "AND revision = ? AND deleted_at IS NULL', [digest.name",
      "AND ? > 0 AND deleted_at IS NULL', [digest.name",
    ],
    [
      'anybody reads a design',
      'WHERE d.id = ? AND d.owner = ? AND d.deleted_at IS NULL`',
      "WHERE d.id = ? AND ? <> '' AND d.deleted_at IS NULL`",
    ],
    [
      'anybody takes a design off',
      'WHERE owner = ? AND id IN (?) ${which}',
      'WHERE ? IS NOT NULL AND id IN (?) ${which}',
    ],
    ['parts of a document are not written', 'if (!known.has(sha256))', 'if (false)'],
    ['a target that is gone stays on the sheet', 'if (wanted.has(key))', 'if (true)'],
    [
      'the sheet keeps an old name',
      'UPDATE design SET revision = revision + 1, name = ?',
      'UPDATE design SET revision = revision + 1, name = COALESCE(name, ?)',
    ],
  ]),
  ...group('stores', 'server/src/designs/sheet-store.ts', 'server/dist/sheet/sheet.spec.js', [
    [
      'the sheet counts designs that are off it',
      'WHERE owner = ? AND deleted_at IS NULL) AS total',
      'WHERE owner = ?) + 1 AS total',
    ],
    ['what was found is not kept', 't.requirement_revision = j.v,', 't.requirement_revision = NULL,'],
  ]),
  ...group('stores', 'server/src/designs/target-checks.ts', 'server/dist/sheet/sheet.spec.js', [
    ['a changed requirement changes nothing', 'found.requirementRevision === requirement.revision', 'true'],
  ]),
  ...group('stores', 'server/src/keeper/duties.ts', KEEPER, [
    ['named revisions are thinned', 'AND name IS NULL\n', '\n'],
    [
      'revisions that files were made from are thinned',
      'AND NOT EXISTS (SELECT 1 FROM output o WHERE o.design_id = aged.design_id AND o.revision = aged.revision)',
      '',
    ],
    [
      'the first of an hour stays instead of the last',
      'ORDER BY r.revision DESC) AS place',
      'ORDER BY r.revision) AS place',
    ],
    ['revisions of the day are thinned', 'everyRevision: 1,', 'everyRevision: 0,'],
    [
      'after a month each hour stays',
      "IF(r.saved_at > ${before(KEPT_DAYS.hourlyRevisions)}, DATE_FORMAT(r.saved_at, '%Y%m%d%H')",
      "IF(true, DATE_FORMAT(r.saved_at, '%Y%m%d%H')",
    ],
    [
      'files of artwork are taken',
      'AND NOT EXISTS (SELECT 1 FROM asset a WHERE a.sha256 = blob_file.sha256 OR a.outlined = blob_file.sha256)',
      '',
    ],
    ['letters as outlines are taken', ' OR a.outlined = blob_file.sha256', ''],
    ['files of outputs are taken', 'AND NOT EXISTS (SELECT 1 FROM output o WHERE o.sha256 = blob_file.sha256)', ''],
    ['new files are taken', 'looseFiles: 1,', 'looseFiles: -1,'],
    [
      'artwork that a revision uses is taken',
      "AND NOT EXISTS (SELECT 1 FROM design_use u WHERE u.kind = '${table}' AND u.id = ${table}.id)",
      '',
    ],
    [
      'parts that a revision has are taken',
      'AND NOT EXISTS (SELECT 1 FROM design_part d WHERE d.sha256 = document_part.sha256)',
      '',
    ],
    [
      'open runs are forgotten',
      "const OVER = \"state IN ('done', 'failed', 'cancelled')\"",
      'const OVER = "state IS NOT NULL"',
    ],
    ['designs come back in vain', 'WHERE id = ? AND deleted_at IS NOT NULL FOR UPDATE', 'WHERE id = ? FOR UPDATE'],
  ]),
  ...group('stores', 'server/src/keeper/disk-duties.ts', KEEPER, [
    ['what is in use is taken', 'now - file.used < IN_USE_MS ||', ''],
    ['folders grow beyond their size', 'total <= mostBytes &&', 'true &&'],
  ]),
  ...group('saving', 'server/src/render/documents/digest.ts', DIGEST, [
    ['runs lose their last member', 'if (run.length)\n', 'if (run.length > 1)\n'],
    [
      'a placeholder in a string is taken for one',
      "const part = partOf(texts.join(','), parts);",
      "const part = partOf(texts.join(', '), parts);",
    ],
    ['every run is new when one is added', 'const RUN_LENGTH = 8192', 'const RUN_LENGTH = 1e9'],
    [
      'a missing part goes unnoticed',
      'throw new Error(`A part of a stored document is missing',
      "return ''; throw new Error(`A part of a stored document is missing",
    ],
  ]),
  ...group('saving', 'server/src/floor/http/body.ts', API, [
    [
      'a save without a revision is taken',
      'if (!given) throw new ProblemError( 428',
      'if (false) throw new ProblemError( 428',
    ],
    ['bodies nest without end', '++depth > MOST_DEEP', '++depth > 1e9'],
    ['halves of letters reach the database', 'if (LONE_SURROGATE.test(', 'if (false && LONE_SURROGATE.test('],
    [
      'percent signs break names',
      'return decodeURIComponent(part);\n        }\n        catch {',
      'return decodeURIComponent(part);\n        }\n        catch {\n            throw new URIError(part);',
    ],
  ]),
  ...group('database', 'server/src/floor/database/database.ts', 'server/dist/floor/database/database.spec.js', [
    ['a statement that was undone is lost', 'triedAgain(() => one.change(sql, values))', 'one.change(sql, values)'],
  ]),
  ...group('checks', 'server/src/designs/target-checks.ts', 'server/dist/designs/target-checks.spec.js', [
    [
      'what is forgotten meanwhile is answered as nothing',
      'targets.map((one) => found.get(keyOf(design, one))!)',
      'targets.map((one) => this.known.get(keyOf(design, one))!)',
    ],
  ]),
  ...group('fonts', 'server/src/lettering/font-store.ts', 'server/dist/lettering/own-fonts.spec.js', [
    ['a family goes though a face was meant', 'const which = isWholeFamily', 'const which = true'],
    ['faces of a family stay', 'const which = isWholeFamily', 'const which = false'],
  ]),
  ...group(
    'saving',
    'web/src/app/data/saved-thing.ts',
    'src/app/{data/saving,editor/design-desk}.spec.ts',
    [
      [
        'a draft is not kept in the browser',
        'this.hasDraft = this.deps.drafts.write(this.key, { revision: this.revision(), document: this.value() });',
        '',
      ],
      [
        'an answer overwrites what was done meanwhile',
        'if (this.value() === sent) {\n      this.becomeSaved();',
        'this.value.set(sent);\n    if (this.value() === sent) {\n      this.becomeSaved();',
      ],
      [
        'nothing is tried again while the server is away',
        'if (!isAway(error)) return throwError(() => error);',
        'return throwError(() => error);',
      ],
      [
        'a bench that closes forgets its last change',
        'this.deps.savings.follow(this.key, this.ends().pipe(finalize(done)));\n    this.pressed.next();',
        'done();',
      ],
      ['an older answer overwrites a newer save', 'if (revision < this.revision()) return;', ''],
      [
        'its own save is taken for somebody else’s',
        'if (canonicalJson(this.kind.read(newer).value) === canonicalJson(sent)) this.wasSaved(newer, sent);\n        else this.newer = newer;',
        'this.newer = newer;',
      ],
      [
        'a draft that was sent is taken for a clash',
        'if (canonicalJson(draft.document) === canonicalJson(this.value())) {',
        'if (false) {',
      ],
      ['files are made of what was not saved', "if (this.state() === 'stale') return throwError(why);", ''],
    ],
    { web: true },
  ),
  ...group('validation', 'contract/src/layer-schemas.ts', 'contract/dist/contract.spec.js', [
    [
      'a layer may lack what its kind needs',
      "assetId: identifier().required('A picture needs its artwork file (assetId).')",
      'assetId: identifier()',
    ],
    [
      'a layer may have fields of another kind',
      '.noUnknown(({ unknown }: { unknown?: string }) =>',
      '.test(({ unknown }: { unknown?: string }) =>',
    ],
    ['strokes hold half points', '&& points.length % 3 === 0', ''],
    ['shapes hold numbers that are none', "typeof one === 'number' && Number.isFinite(one)", 'true'],
  ]),
  ...group('validation', 'contract/src/requirement-schema.ts', 'contract/dist/contract.spec.js', [
    ['canvases of any size are taken', 'canvas.widthPx * canvas.heightPx > MAX_CANVAS_PIXELS ||', ''],
    ['canvases of a few pixels are taken', 'canvas.heightPx) >= 16', 'canvas.heightPx) >= 0'],
  ]),
  ...group('validation', 'contract/src/fields.ts', 'contract/dist/contract.spec.js', [
    ['ids of every object are taken', '!(value in Object.prototype)', 'true'],
    ['colours may be anything', 'matches(/^#[0-9a-fA-F]{6}$/,', 'matches(/^/,'],
  ]),
  ...group('drawing', 'core/src/layers/text.ts', 'core/dist/**/*.spec.js', [
    ['an outline of letters has another width', 'outlineReach(layer) / unit', 'outlineReach(layer)'],
    ['missing letters are not told', "layer.missing ?? ''", "''"],
  ]),
  ...group('drawing', 'core/src/layers/layer-kinds.ts', 'core/dist/**/*.spec.js', [
    ['an outline is cut at its shape', '(1 + (2 * reach) / box.width)', '(1 + (1 * reach) / box.width)'],
  ]),
  ...group('drawing', 'core/src/drawing/marks.ts', 'core/dist/**/*.spec.js', [
    [
      'dashes outside are doubled',
      'centred ? [width * 3, width * 2] : [width * 2, width * 3]',
      '[width * 3, width * 2]',
    ],
    ['an outline outside covers the fill', '? [lined, filled(path, fill)]', '? [filled(path, fill), lined]'],
  ]),
  ...group('drawing', 'core/src/recipes/recipe.ts', 'core/dist/**/*.spec.js', [
    [
      'hidden layers are printed',
      'return design.layers .filter((layer) => !layer.hidden && layer.opacity > 0)',
      'return design.layers.filter((layer) => layer.opacity > 0)',
    ],
    ['a changed demand changes no file', 'revision: requirement.revision', 'revision: 0'],
  ]),
  ...group('drawing', 'core/src/raster/over.ts', 'core/dist/**/*.spec.js server/dist/render/print/*.spec.js', [
    ['soft edges darken', 'const rest = (ab * (255 - as)) / 255;', 'const rest = (ab * (255 - as)) / 512;'],
  ]),
  ...group('drawing', 'server/src/render/print/draw-layers.ts', 'server/dist/render/print/*.spec.js', [
    [
      'edges lie between pixels',
      'const [first, last] = [Math.round(from), Math.round(to)]',
      'const [first, last] = [from, to]',
    ],
    ['the first faint layer is opaque', 'placed && empty && opacity === 1', 'placed && empty'],
    ['what is erased stays', 'else if (step.erase) takeOut(pixels, drawn);', 'else if (step.erase) void drawn;'],
  ]),
  ...group('drawing', 'core/src/mockup/preview.ts', 'server/dist/mockups/blanks.spec.js', [
    ['a preview that broke off is shown', '!== view.length', '> view.length + 1e9'],
  ]),
  ...group('drawing', 'core/src/checks/off-canvas.ts', 'core/dist/checks/*.spec.js', [
    ['art that covers the canvas is called cut', '|| covers(ink, page)', ''],
  ]),
  ...group('drawing', 'core/src/checks/check-input.ts', 'core/dist/checks/*.spec.js', [
    [
      'empty margins of a file count as ink',
      'mapBox(unitToField(inkPlace(layer)), facts.inkBox)',
      'mapBox(unitToField(inkPlace(layer)), { x: 0, y: 0, width: 1, height: 1 })',
    ],
  ]),
  ...group('treat', 'core/src/document/version.ts', 'core/dist/document/version.spec.js', [
    ['light cloth is called dark', 'L >= LIGHT_FROM', 'L < LIGHT_FROM'],
    ['a version gives way to its target', '{ ...below, ...exception,', '{ ...exception, ...below,'],
  ]),
  ...group('treat', 'core/src/layers/treated-layer.ts', 'core/dist/document/version.spec.js', [
    ['a crop moves what stays', '(to.x + to.width / 2 - from.x) / from.width', 'to.x + to.width / 2'],
  ]),
  ...group('treat', 'core/src/treatments/treated.ts', TREATMENTS, [
    ['ids name a treated picture', '({ id: _id, off: _off, ...step }) => step', '(step) => step'],
  ]),
  ...group('treat', 'core/src/treatments/matte.ts', TREATMENTS, [
    ['a halo stays', 'trust * ((data[i] - rest * gr) / share) + (1 - trust) * ar', 'data[i]'],
    ['the band is as coarse as the copy', 'if (kind === OUT)', 'if (kind !== IN)'],
  ]),
  ...group('treat', 'core/src/treatments/edge.ts', TREATMENTS, [
    ['the old colour stays', 'Math.max(edge.decontaminate, missing)', 'missing'],
    ['a bay counts as a hole', '(mark === 2 && open)', 'false'],
    ['specks stay', 'if (island === 1)', 'if (false)'],
  ]),
  ...group('treat', 'core/src/treatments/dissolve.ts', TREATMENTS, [
    ['too little is left to come back', 'Math.ceil(share * 255 - 1e-9)', 'Math.floor(share * 200)'],
  ]),
  ...group('treat', 'core/src/treatments/tone.ts', TREATMENTS, [
    ['nothing is turned over', 'l = 1 - l', 'l = l'],
    ['hue stays', 'h += tone.hue', 'h += 0'],
  ]),
  ...group('treat', 'core/src/treatments/stroke-cut.ts', TREATMENTS, [
    ['what is dropped stays', 'seeds[cell] = stroke.keep ? 1 : 2', 'seeds[cell] = 1'],
  ]),
  ...group('treat', 'core/src/raster/flat-field.ts', 'core/dist/raster/flat-field.spec.js', [
    ['a drawing at the edge hides the box', 'const MOST_OF_RIM = 0.6', 'const MOST_OF_RIM = 0.9'],
    ['a pattern is a box', 'return isCut(cut[0], cut[1])', 'return false && isCut(cut[0], cut[1])'],
    ['a sky is flat', 'const NOISE = 4', 'const NOISE = 400'],
    ['a frame is a box', 'const LEAST_AREA = 0.08', 'const LEAST_AREA = 0'],
  ]),
  ...group('treat', 'core/src/raster/screen.ts', 'core/dist/raster/screen.spec.js', [
    ['a screen too fine is made', 'cell < LEAST_CELL - 1e-9', 'false'],
    ['dots are all of one size', 'ranks[at] < alpha', 'ranks[at] < 128'],
  ]),
  ...group('treat', 'core/src/layers/keyline.ts', 'core/dist/layers/keyline.spec.js', [
    ['the line is half as wide', 'width: 2 * (distance + half)', 'width: distance + half'],
    ['holes are never filled', "holes === 'filled'", 'false'],
  ]),
  ...group('treat', 'core/src/press/seen-ink.ts', 'core/dist/press/seen-ink.spec.js', [
    ['fine lines count no more', 'fine ? FINE_WEIGHT : 1', '1'],
  ]),
  ...group('treat', 'core/src/document/propose-version.ts', 'core/dist/document/version.spec.js', [
    ['every picture is line art', '< all * LINE_ART', '< 0'],
  ]),
  ...group('treat', 'server/src/sheet/sheet.ts', PICTURES, [
    [
      'a cell shows the state of its best version',
      'URGENT.indexOf(b.state) < URGENT',
      'URGENT.indexOf(b.state) > URGENT',
    ],
  ]),
  ...group('treat', 'server/src/making/outputs.ts', PICTURES, [
    ['a file stands for no version', '!isOutOfDate(file, judgements[i].recipe)', 'false'],
  ]),
  ...group('treat', 'server/src/artwork/asset-store.ts', PICTURES, [
    ['old measures are never mended', 'WHERE measured < ?', 'WHERE measured > ?'],
  ]),
  ...group('treat', 'server/src/render/artwork/shown.ts', PICTURES, [
    [
      'the file is drawn in place of what is shown',
      'path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> { const { sha256, treated } = shown;',
      "path: string): Promise<{ pixels: Pixels } | { svg: Buffer }> { const { sha256 } = shown; const treated = undefined as ShownSource['treated'];",
    ],
  ]),
  ...group('press', 'core/src/press/measure.ts', 'core/dist/press/measure.spec.js', [
    ['holes open to the edge are pinholes', 'isSmall(one) && inside(one)', 'isSmall(one)'],
    ['ink below the limit is too much', 'sum > limits.coverage + 1', 'sum > 0'],
    ['places are told from the ink and not from the print', 'x: box.x + part.left * mm', 'x: box.x'],
    ['nothing is bare around the ink', 'Math.floor((at - room) / cell) * cell', 'at'],
  ]),
  ...group('press', 'core/src/raster/components.ts', 'core/dist/press/measure.spec.js', [
    ['corners do not touch', 'before[j] <= x; j += 3', 'before[j] < x; j += 3'],
    ['distances are along the column alone', 'd * d < best; d++', 'd < 0; d++'],
  ]),
  ...group('press', 'core/src/checks/accepted.ts', 'core/dist/checks/checks.spec.js', [
    ['what was accepted stays accepted', 'taken.about === aboutOf(finding, whole, target, requirement)', 'true'],
  ]),
  ...group('press', 'core/src/naming/file-name.ts', 'core/dist/naming/file-name.spec.js', [
    ['capitals tell files apart', "name.normalize('NFC').toLowerCase()", 'name'],
    ['names of devices are taken', 'RESERVED.test', '!RESERVED.test'],
  ]),
  ...group('press', 'core/src/requirement/file-kinds.ts', 'core/dist/requirement/file-kinds.spec.js', [
    ['transparency is dropped', "transparency !== 'required' ||", 'true ||'],
    ['a photo goes into an SVG', "(kind.holds !== 'outlines' || outlinesOnly)", 'true'],
  ]),
  ...group('press', 'server/src/render/print/formats/tiff-writer.ts', 'server/dist/render/press/press.spec.js', [
    ['alpha is said to be multiplied in', '[338, SHORT, [2]]', '[338, SHORT, [1]]'],
    ['differences are not told', '[317, SHORT, [2]]', '[317, SHORT, [1]]'],
  ]),
  ...group('press', 'server/src/render/colour/colour-engine.ts', 'server/dist/render/press/press.spec.js', [
    ['black point compensation is left out', 'blackPoint ? cmsFLAGS', 'false ? cmsFLAGS'],
    ['all intents are one', 'INTENT[intent]', '0'],
  ]),
  ...group('press', 'server/src/packages/packages.ts', 'server/dist/app/pressroom.spec.js', [
    ['a package holds what was packed before', '!before.has(', 'true || before.has('],
    ['files that miss a demand are packed', '!file || !file.accepted', '!file'],
  ]),
  ...group('press', 'server/src/floor/queue/job-store.ts', 'server/dist/app/pressroom.spec.js', [
    [
      'a held run goes on',
      "SET state = 'paused' WHERE batch_id = ? AND state = 'queued'",
      "SET state = 'queued' WHERE batch_id = ? AND state = 'queued'",
    ],
    ['what cannot be made is tried', "step.failed !== undefined ? 'failed'", "step.failed === '' ? 'failed'"],
  ]),
  ...group('press', 'server/src/requirements/requirement-library.ts', 'server/dist/app/pressroom.spec.js', [
    ['half a table is taken in', 'if (faults.length)', 'if (false)'],
  ]),
  ...group('guests', 'server/src/clients/client-approval.ts', GUESTS, [
    ['a withdrawn page is open', 'withdrawnAt === null && (', '('],
    ['a page that is over is open', 'expiresAt.getTime() > Date.now()', 'expiresAt.getTime() > 0'],
    ['a yes to an earlier round stands', 'word.round === round && ', ''],
  ]),
  ...group('guests', 'server/src/clients/guest-routes.ts', GUESTS, [
    ['the pass phrase is asked of nobody', 'page.pass && !isLetIn', 'false && !isLetIn'],
    ['any pass phrase opens', '!(await holds(words.slice(0, 200), page.pass))', 'false'],
    ['any file is handed out', 'sha256 === sha)', 'sha256 !== "")'],
  ]),
  ...group('guests', 'server/src/floor/http/guest-guards.ts', GUESTS, [
    ['links are guessed for ever', 'response.statusCode !== 404', 'true'],
  ]),
  ...group('guests', 'server/src/clients/client-pages.ts', GUESTS, [
    ['a yes is to a round that is over', 'word.round !== shown.round', 'false'],
    ['a yes is to none of several', "word.kind === 'approval' && !chosen", 'false'],
    ['what is approved never changes', '!== print;', "=== '';"],
  ]),
  ...group('guests', 'server/src/orders/print-run-store.ts', GUESTS, [
    ['people enter what is closed', "run?.state !== 'open'", 'false'],
    ['a name is left when it is erased', "SET name = '', contact = ''", "SET contact = ''"],
    ['a print is ordered twice', 'WHERE id = ? AND state = ?`', 'WHERE id = ? AND ? IS NOT NULL`'],
  ]),
  ...group('orders', 'core/src/orders/print-run.ts', 'core/dist/orders/orders.spec.js', [
    ['what is not offered is counted', 'sizes.includes(one.size)', 'true'],
    ['a loss is worth it', '.earns <= 0', '.earns < -1e9'],
  ]),
  ...group('orders', 'core/src/sales/earnings.ts', 'core/dist/sales/earnings.spec.js', [
    ['a loss is a gain', 'Math.sign(minor) * size', 'size'],
    ['copies without a rate are hidden', 'income === null ? copies : 0', '0'],
  ]),
  ...group('files', 'server/src/floor/files/whole-file.ts', 'server/dist/floor/files/whole-file.spec.js', [
    ['two write one file at once', '`${path}.${process.pid}-${++written}.part`', '`${path}.part${written}`'],
    ['half a file is left beside it', 'await rm(coming, { force: true })', 'await Promise.resolve()'],
  ]),
  ...group(
    'page',
    'web/src/app/design-page/layer-details.ts',
    'src/app/design-page/layer-details.spec.ts',
    [['a shape cannot be stretched', "here.layer.kind === 'shape' && !this.proportional()", 'false']],
    { web: true },
  ),
  ...group(
    'parts to choose with',
    'web/src/app/units/chips.ts',
    'src/app/units/choices.spec.ts',
    [
      ['another than the chosen one is pressed', 'on: id === chosen', 'on: id !== chosen'],
      ['what cannot be done now can be pressed', '[disabled]="chip.disabled ?? false"', '[disabled]="false"'],
    ],
    { web: true },
  ),
  ...group(
    'parts to choose with',
    'web/src/app/units/pick-field.ts',
    'src/app/units/choices.spec.ts',
    [['a list that does something stays on what it did', '(box.value = this.value())', '(box.value = box.value)']],
    { web: true },
  ),
  ...group(
    'parts to choose with',
    'web/src/app/units/file-picker.ts',
    'src/app/units/choices.spec.ts',
    [
      ['the same file cannot be chosen again', "box.value = '';", ''],
      ['no file is a choice too', 'if (files.length)', 'if (true)'],
    ],
    { web: true },
  ),
  ...group(
    'parts to choose with',
    'web/src/app/units/swatches.ts',
    'src/app/units/choices.spec.ts',
    [['a colour in other letters is another', 'value()?.toLowerCase()', 'value()']],
    { web: true },
  ),
  ...group(
    'parts to choose with',
    'web/src/app/units/slide-field.ts',
    'src/app/units/settings.spec.ts',
    [['a slid value is read out without its unit', '[displayWith]="said"', '']],
    { web: true },
  ),
  ...group(
    'page',
    'web/src/app/clips/clip-making.ts',
    'src/app/clips/clip-making.spec.ts',
    [['the server makes what was saved before', 'await firstValueFrom(this.desk.whenSaved());', '']],
    { web: true },
  ),
  ...group(
    'page',
    'web/src/app/handover/handover-dialog.ts',
    'src/app/handover/handover-dialog.spec.ts',
    [['an unticked channel is sent to', '&& !this.without().has(id)', '']],
    { web: true },
  ),
  ...group(
    'page',
    'web/src/app/colours/colour-wall.ts',
    'src/app/colours/colour-wall.spec.ts',
    [
      [
        'the worst colour comes last',
        '|| (b.seen?.lost ?? 0) - (a.seen?.lost ?? 0)',
        '|| (a.seen?.lost ?? 0) - (b.seen?.lost ?? 0)',
      ],
    ],
    { web: true },
  ),
  ...group(
    'page',
    'web/src/app/pictures/picture-set-dialog.ts',
    'src/app/pictures/picture-set-dialog.spec.ts',
    [
      [
        'what was changed in a set is not kept before it is used',
        'if (!fields) return of(set);',
        'if (fields) return of(set);',
      ],
    ],
    { web: true },
  ),
  ...group('true', 'core/src/units/typed-number.ts', 'core/dist/units/typed-number.spec.js', [
    [
      'a decimal comma is passed over',
      "const decimal = digits.replace(',', '.');",
      "const decimal = digits.replace(',', '');",
    ],
    ['what can be two is not asked', '/^[1-9]\\d{0,2},\\d{3}$/.test(digits)', 'false'],
  ]),
  ...group('true', 'core/src/requirement/file-kinds.ts', 'server/dist/app/api.spec.js', [
    ['a requirement that no file can be is kept', 'if (fileTypeFor(demands, true) === null) {', 'if (false) {'],
  ]),
  ...group('true', 'server/src/render/documents/derive.ts', 'server/dist/lettering/own-fonts.spec.js', [
    ['letters are drawn in whatever font a process knows', 'outlined ?? sha256;', 'sha256;'],
  ]),
  ...group('true', 'server/src/render/print/likeness.ts', 'server/dist/render/print/certified.spec.js', [
    ['another colour is taken for alike', 'Math.max(levels / MOST_TINT, deltaE2000(one, other) / MOST_DELTA_E)', '0'],
    ['grey is averaged before it is grey', "if (recipe.mode === 'grey') greyed(drawn);", ''],
  ]),
  ...group('true', 'server/src/render/artwork/png-colour.ts', 'server/dist/render/artwork/colour-in.spec.js', [
    ['what cICP says is passed over', "else if (type === 'cICP') {", "else if (type === 'cICQ') {"],
  ]),
  ...group('true', 'server/src/render/artwork/source.ts', 'server/dist/render/artwork/colour-in.spec.js', [
    [
      '16 bit that nobody tagged is taken for linear light',
      "(icc ? upright.withIccProfile('srgb') : upright.toColourspace('srgb'))",
      "upright.withIccProfile('srgb')",
    ],
  ]),
  ...group(
    'true',
    'web/src/app/editor/editor.ts',
    'src/app/editor/measuring.spec.ts',
    [['what was not measured is fine', "? 'measuring' : last.ok", "? 'measured' : last.ok"]],
    { web: true },
  ),
  ...group(
    'true',
    'web/src/app/requirements/requirements-page.ts',
    'src/app/requirements/requirements-page.spec.ts',
    [['another unit keeps the numbers', 'inUnit(length, this.form.controls.unit.value, unit, density)', 'length']],
    { web: true },
  ),
  ...group('true', 'core/src/drawing/rubbed.ts', 'core/dist/drawing/rubbed.spec.js', [
    [
      'the eraser rubs where the design has a layer, not where it is seen',
      'onLayer(seen, stroke)',
      'onLayer(layer.place, stroke)',
    ],
    [
      'the eraser stays behind when less of a picture is shown',
      '(from.x + value * from.width - to.x) / to.width',
      'value',
    ],
  ]),
  ...group('true', 'server/src/render/print/draw-layers.ts', 'server/dist/render/print/print-file.spec.js', [
    [
      'what is rubbed out of a picture is out of its file',
      'Uint8Array.from(pixels.data) };\n    takeOut',
      'pixels.data };\n    takeOut',
    ],
  ]),
  ...group('true', 'server/src/render/print/likeness.ts', 'server/dist/render/print/print-file.spec.js', [
    ['the second drawing rubs nothing out', 'const mask = rubbed\n', 'const mask = (rubbed && false)\n'],
  ]),
  ...group(
    'true',
    'web/src/app/stage/pinch.ts',
    'src/app/stage/stage-view.spec.ts',
    [['two fingers take hold of what lies under the first', 'this.begun();', '']],
    { web: true },
  ),
  ...group('seen', 'core/src/press/seen-ink.ts', 'core/dist/press/seen-ink.spec.js', [
    ['ink like the cloth is lost wherever it lies', 'if (lies[i] !== CLOTH) continue;', 'if (lies[i] === 0) continue;'],
    ['fine lines count as their area', 'share * (fine ? FINE_WEIGHT : 1)', 'share'],
    ['the contrast is that of the best', 'a.contrast - b.contrast', 'b.contrast - a.contrast'],
    ['ink within other ink has a contrast to the cloth', 'bin.meets += share', 'bin.meets += share; bin.meets += 0.5'],
  ]),
  ...group('seen', 'core/src/press/thin.ts', 'core/dist/press/measure.spec.js', [
    ['a line as wide as the candidates is thin', 'if (!(own < limit)) continue;', 'if (!(own < limit + 1)) continue;'],
    ['one way across is enough', '{ length: 16 }', '{ length: 1 }'],
  ]),
  ...group('seen', 'core/src/press/ink-lines.ts', 'core/dist/press/measure.spec.js', [
    ['ink within ink has no lines', 'if (isOne && sum < least) least = sum;', ''],
  ]),
  ...group('seen', 'core/src/press/letters.ts', 'core/dist/press/measure.spec.js', [
    ['dots in a row are letters', '|| (letters.length > 1 && isPattern(row))', ''],
    ['a bar is a word', '? Math.round(crossed / 2) : 0', '? Math.round(crossed / 2) : Math.round(across / whole)'],
    ['the highest letter counts', 'Math.floor(letters.length * 0.1)', 'letters.length - 1'],
  ]),
  ...group('seen', 'core/src/mockup/layered.ts', 'server/dist/render/mockup/layered.spec.js', [
    ['the print lies under no shade', '(Math.max(0, is - gloss) * 255) / shade', 'is'],
    ['what no colour can give is left out', 'gloss = Math.max(0, Math.min(255, is - lit));', ''],
  ]),
  ...group('seen', 'core/src/mockup/seen-box.ts', 'core/dist/mockup/seen-box.spec.js', [
    ['hidden corners have no handle', 'if (pixel) return [{ pixel, at }];', 'return pixel ? [{ pixel, at }] : [];'],
  ]),
  ...group('seen', 'server/src/designs/target-checks.ts', 'server/dist/app/pressroom.spec.js', [
    ['what is measured later is not judged again', 'if (seen) this.known.delete(keyOf(design, one));', 'if (false);'],
    ['nothing is measured for the sheet', 'this.measureLater(design.id)', 'void 0'],
  ]),
  ...group('seen', 'server/src/print-shops/shop-order.ts', 'server/dist/print-shops/shop-orders.spec.js', [
    ['every order goes to one shop', 'markets.get(way)', "places.get('print-shop')"],
  ]),
  ...group('told', 'core/src/press/on-ink.ts', 'core/dist/press/on-ink.spec.js', [
    [
      'an outline carries no letters',
      'if (state[n] !== LOST || nearSeen[n]) continue;',
      'if (state[n] !== LOST) continue;',
    ],
    ['bare cloth is ink', 'below.data[n * 4 + 3] >= THERE && isLost(n * 4)', 'isLost(n * 4)'],
  ]),
  ...group('told', 'server/src/render/press/measure-print.ts', 'server/dist/app/pressroom.spec.js', [
    ['letters are looked for in another layer', 'let number = -1;', 'let number = 0;'],
  ]),
  ...group('told', 'server/src/render/print/print-file.ts', 'server/dist/render/print/certified.spec.js', [
    ['any profile will do', '!profile.equals(meant)', 'false'],
  ]),
  ...group(
    'told',
    'server/src/floor/queue/job-store.ts',
    'server/dist/making/jobs.spec.js server/dist/print-shops/shop-orders.spec.js',
    [
      [
        'nobody is told of a new run',
        'if (over.length) await settle(within, id);\n    });\n    this.changed(true);',
        'if (over.length) await settle(within, id);\n    });',
      ],
      ['what waits for a cancelled run goes on waiting', 'await endWhatWaits(within, MOST_ENDED);', ''],
      ['a worker that ends is a try', '{ ...row, lapses: row.lapses + 1 }', '{ ...row, attempts: row.attempts + 1 }'],
    ],
  ),
  ...group('told', 'server/src/print-shops/shop-orders.ts', 'server/dist/print-shops/shop-orders.spec.js', [
    [
      'an order is written before its step',
      'async (within) => [\n      stepOf(design, { id: await this.deps.shopOrderStore.add(within, order, file)',
      'async () => [\n      stepOf(design, { id: await this.store.add((this.store as never as { database: never }).database, order, file)',
    ],
  ]),
  ...group('calm', 'server/src/render/text/font-file.ts', 'server/dist/render/text/font-file.spec.js', [
    ['fonts are unpacked over each other', '.then((window) => window.slice())', ''],
  ]),
  ...group('calm', 'server/src/floor/queue/failure-store.ts', 'server/dist/making/failures.spec.js', [
    ['what was made is still told as failed', 'if (end.failed)\n', 'if (true)\n'],
    ['each try leaves a word of its own', 'AND about = ? AND asked = ?', 'AND about = ? AND asked <> ?'],
    ['anybody dismisses anything', 'WHERE design_id = ? AND id = ?', 'WHERE design_id = ? AND id <> ?'],
  ]),
  ...group('calm', 'server/src/floor/files/file-cache.ts', 'server/dist/app/small-things.spec.js', [
    ['one who leaves takes the others along', 'if (--one.waiting === 0) one.left.abort();', 'one.left.abort();'],
    ['what was left is never made again', 'if (before?.left.signal.aborted) {', 'if (false) {'],
  ]),
  ...group('calm', 'server/src/floor/processes/process-pool.ts', 'server/dist/render/render-pool.spec.js', [
    ['the queue has no end', 'this.waiting.length >= MOST_WAITING', 'false'],
  ]),
  ...group('calm', 'server/src/launch/backup-mark.ts', 'server/dist/launch/launch.spec.js', [
    ['a changed table is whole', '?.sha256 !== sha256', '?.sha256 === undefined'],
    ['one that is cut is whole', 'if (fault || !end) {', 'if (fault) {'],
  ]),
  ...group('calm', 'server/src/launch/load-demo.ts', 'server/dist/launch/demo.spec.js', [
    ['what people make keeps the demo away', 'if (kept) return kept;', ''],
    ['one that fails keeps the others away', 'failed.push(', 'throw error; failed.push('],
  ]),
  ...group('calm', 'server/src/documents/part-table.ts', 'server/dist/documents/part-table.spec.js', [
    ['a table has no end', 'if (rows.length > most) break;', ''],
    ['nobody else is answered', 'await others();', ''],
  ]),
  ...group('calm', 'server/src/clients/client-page-store.ts', GUESTS, [
    [
      'the page of a deleted design is shown',
      'WHERE p.token_hash = ? AND d.deleted_at IS NULL',
      'WHERE p.token_hash = ?',
    ],
  ]),
  ...group('calm', 'server/src/clients/guest-routes.ts', GUESTS, [
    ['guessing a pass phrase of no page is no try', 'response.status(404).type', 'response.status(200).type'],
  ]),
  ...group(
    'said once',
    'server/src/keeper/duties.ts',
    'server/dist/keeper/keeper.spec.js',
    ["'waiting', ", "'queued', ", "'paused', ", ", 'running'"].map((state) => [
      `what a step in the state ${state.replace(/[^a-z]/g, '')} is made of goes`,
      `NOT_OVER = "state IN ('waiting', 'queued', 'paused', 'running')`,
      `NOT_OVER = "state IN (${"'waiting', 'queued', 'paused', 'running'".replace(state, '')})`,
    ]),
  ),
  ...group('said once', 'server/src/designs/design-store.ts', API, [
    [
      'what is off the sheet is taken off again',
      "'AND deleted_at IS NULL', 'CURRENT_TIMESTAMP(3)'",
      "'', 'CURRENT_TIMESTAMP(3)'",
    ],
  ]),
  ...group('said once', 'server/src/documents/out-of-date.ts', PICTURES, [
    ['everything is current', '!now.includes(made.recipe)', 'false'],
    ['a file of another recipe is current', 'AND ${as}.recipe = ${rows}.recipe', ''],
  ]),
  ...group('said once', 'server/src/orders/print-run-store.ts', 'server/dist/app/stores.spec.js', [
    [
      'what is ordered is changed by who looked before',
      "if (run?.state === 'ordered' || run?.state === 'delivered') return 'ordered';",
      '',
    ],
    [
      'what is ordered loses an entry',
      "run?.state === 'open'\n          ? await within",
      'true\n          ? await within',
    ],
  ]),
  ...group('said once', 'server/src/app/routes.ts', 'server/dist/app/api.spec.js', [
    ['what is not promised is answered', 'if (wrong) throw', 'if (false) throw'],
  ]),
  ...group('said once', 'server/src/app/routes.ts', 'server/dist/app/recorded.spec.js', [
    ['an id may be anything', 'IDS.has(hole) ? ownId(request.params[hole])', 'IDS.has(hole) ? request.params[hole]'],
    ['a query may be anything', 'return ownId(undefined);', 'return {};'],
  ]),
  ...group('said once', 'contract/src/fields.ts', 'server/dist/app/recorded.spec.js', [
    ['a layer may be of no kind', 'kinds[kind as K] : unknown', 'kinds[kind as K] : yup.mixed()'],
  ]),
  ...group('said once', 'contract/src/answers/sheet.ts', 'server/dist/app/recorded.spec.js', [
    ['a field of an answer is not described', '  miniature: told.text(),\n', ''],
  ]),
];
