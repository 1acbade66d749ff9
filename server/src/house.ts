import { chmod, mkdir, writeFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Database } from './database/database.js';
import { migrate } from './database/migrate.js';
import { JobWatch } from './jobs/job-watch.js';
import { jobKinds } from './jobs/job-kinds.js';
import { Worker, Workers } from './jobs/worker.js';
import type { ChannelRulesFields, ClipRequirementFields, PrintShopFields } from '@kettle/core';
import { channelRulesSchema, clipRequirementSchema, printShopSchema } from '@kettle/contract';
import { CHANNEL_RULES, CLIP_REQUIREMENTS, MUSIC, PICTURE_SETS, PRINT_SHOPS } from './launch/places.js';
import { DISK_DUTIES } from './keeper/disk-duties.js';
import { DUTIES } from './keeper/duties.js';
import { Keeper } from './keeper/keeper.js';
import { silentLog, type Log } from './log.js';
import type { Lane } from './making/output-kind.js';
import { SELLER } from './caller.js';
import { MarketAnswers } from './markets/answers.js';
import type { OutsidePlaces } from './outside/line.js';
import { fontsConfiguration } from './render/text/faces.js';
import { RenderPool } from './render/render-pool.js';
import { DiskGuard } from './safety/disk.js';
import { wholeFile } from './safety/whole-file.js';
import { AssetService } from './services/assets.js';
import { BlankService } from './services/blanks.js';
import { ClientPageService } from './services/client-pages.js';
import { PrintRunService } from './services/print-runs.js';
import { ClipService } from './services/clips.js';
import { DesignFileService } from './services/design-files.js';
import { DesignService } from './services/designs.js';
import { GraphicsService } from './services/graphics.js';
import { LetteringService } from './services/lettering.js';
import { Judge } from './services/judge.js';
import { Workshop } from './making/workshop.js';
import { PictureService } from './services/pictures.js';
import { OwnBlankService } from './services/own-blanks.js';
import { PackageService } from './services/packages.js';
import { PictureSetService } from './services/picture-sets.js';
import { ClothMeasureService } from './services/cloth-measures.js';
import { MockupFileService } from './services/mockup-files.js';
import { PressMeasureService } from './services/press-measures.js';
import { FailureService } from './services/failures.js';
import { HistoryService } from './services/history.js';
import { ShopOrderService } from './services/shop-orders.js';
import { ListingService } from './services/listings.js';
import { OwnThings } from './services/own-things.js';
import { MusicService } from './services/music.js';
import { ProfileService } from './services/profiles.js';
import { RequirementLibrary } from './services/requirement-library.js';
import { OutputService } from './services/outputs.js';
import { Deriver } from './services/recipes.js';
import { SheetService } from './services/sheet.js';
import { AssetStore } from './stores/assets.js';
import { BlankPackStore } from './stores/blank-packs.js';
import { BlobStore } from './stores/blobs.js';
import { ClientPageStore } from './stores/client-pages.js';
import { PrintRunStore } from './stores/print-runs.js';
import { DesignStore } from './stores/designs.js';
import { FontStore } from './stores/fonts.js';
import { GateStore } from './stores/gate.js';
import { JobStore } from './stores/jobs.js';
import { KeeperStore } from './stores/keeper.js';
import { OutputStore } from './stores/outputs.js';
import { PictureSetStore } from './stores/picture-sets.js';
import { PackageStore } from './stores/packages.js';
import { SettingStore } from './stores/settings.js';
import { PressMeasureStore } from './stores/press-measures.js';
import { OwnFieldsStore } from './stores/own-fields.js';
import { MusicStore } from './stores/music.js';
import { CallStore } from './stores/calls.js';
import { FailureStore } from './stores/failures.js';
import { HistoryStore } from './stores/history.js';
import { ShopOrderStore } from './stores/shop-orders.js';
import { ListingStore } from './stores/listings.js';
import { PublicationStore } from './stores/publications.js';
import { ProfileStore } from './stores/profiles.js';
import { RequirementStore } from './stores/requirements.js';
import { TreatedStore } from './stores/treated.js';
import { SheetStore } from './stores/sheet.js';

/** Where a process finds its things. */
export interface HouseOptions {
  readonly databaseUrl: string;
  /** An account that may change the layout of the database, used for that alone; the same one when absent. */
  readonly ownerUrl?: string;
  /** Folder for local copies; it may be emptied at any time. */
  readonly cache: string;
  readonly blanks: string;
  /** Folder of the shipped picture sets. */
  readonly pictureSets?: string;
  readonly mostUploadBytes?: number;
  readonly log?: Log;
  readonly disk?: DiskGuard;
  /** How many exports are made side by side; as many as there are cores, two at most, when absent. */
  readonly exporters?: number;
  /** Where markets are reached. */
  readonly markets?: OutsidePlaces;
  /** Processes that are shared with other houses on the same folder of copies, and outlive this one. */
  readonly pools?: RenderPools;
}

/** The processes of a house that decode and draw, by whom they work for. */
export interface RenderPools {
  /** What people look at. */
  readonly view: RenderPool;
  readonly type: RenderPool;
  readonly intake: RenderPool;
  /** Large documents are read and judged where nobody waits for it. */
  readonly think: RenderPool;
  readonly soon: RenderPool;
  readonly make: RenderPool;
  readonly measure: RenderPool;
}

/**
 * What people look at, what they type, what comes in and what the queue makes do not wait for each other: a hostile
 * file holds up its own lane alone.
 * @param cache folder of local copies; all that use these processes share it
 */
export async function openPools(cache: string, exporters = usualExporters()): Promise<RenderPools> {
  const fonts = join(cache, 'fonts.conf');
  await mkdir(cache, { recursive: true });
  // Others may start on this folder just now.
  await wholeFile(fonts, (coming) => writeFile(coming, fontsConfiguration(join(cache, 'fontconfig'))));
  const drawing = { fonts, kept: cache };
  return {
    view: new RenderPool(Math.max(1, Math.min(2, availableParallelism())), drawing),
    type: new RenderPool(1),
    intake: new RenderPool(1, drawing),
    think: new RenderPool(1),
    // Steps of the queue have their tries there: what somebody waits for beside what takes long.
    soon: new RenderPool(1, { ...drawing, tries: 1 }),
    // Exports keep all cores busy, behind whatever somebody looks at.
    make: new RenderPool(exporters, { ...drawing, tries: 1, behind: true }),
    // A print is measured where nobody who looks at something waits for it.
    measure: new RenderPool(1, { ...drawing, behind: true }),
  };
}

export const poolsOf = ({ view, type, intake, think, soon, measure, make }: RenderPools): RenderPool[] => [
  view,
  type,
  intake,
  think,
  soon,
  measure,
  make,
];

const usualExporters = (): number => Math.max(1, Math.min(2, availableParallelism()));

/** How requirements for clips are spoken of. */
export const CLIP_REQUIREMENT_WORDS = {
  code: 'requirement',
  name: 'requirement for clips',
  folder: CLIP_REQUIREMENTS,
  schema: clipRequirementSchema,
};

/** All stores and services of one process, put together in one place. */
export async function openHouse({
  databaseUrl,
  ownerUrl = databaseUrl,
  cache,
  blanks: blankFolder,
  pictureSets: pictureSetFolder = PICTURE_SETS,
  mostUploadBytes,
  log = silentLog,
  disk = new DiskGuard(cache),
  exporters = usualExporters(),
  markets = new Map(),
  pools,
}: HouseOptions) {
  // Copies of sellers' work are nobody else's business on a shared machine.
  await mkdir(cache, { recursive: true, mode: 0o700 });
  await chmod(cache, 0o700);
  const owner = new Database(ownerUrl);
  await migrate(owner).finally(() => owner.close());
  const database = new Database(databaseUrl);
  await disk.start();
  const own = pools ?? (await openPools(cache, exporters));
  const { view, type, intake, think, soon, make, measure } = own;
  const blobs = new BlobStore(database, cache);
  const assetStore = new AssetStore(database);
  const requirements = new RequirementStore(database);
  const designStore = new DesignStore(database);
  const jobs = new JobStore(database);
  const watch = new JobWatch(jobs);
  const outputStore = new OutputStore(database);
  const sheetStore = new SheetStore(database);
  const blanks = await BlankService.open(blankFolder, new BlankPackStore(database), blobs, view, cache, log);
  const assets: AssetService = new AssetService(
    assetStore,
    blobs,
    view,
    intake,
    cache,
    (who) => lettering.known(who),
    mostUploadBytes,
  );
  const deriver = new Deriver(think);
  const pictures = new PictureService(assetStore, new TreatedStore(database), blobs, view, cache);
  const measureStore = new PressMeasureStore(database);
  const onCloths = new ClothMeasureService(measureStore, blobs, measure);
  const judge = new Judge(deriver, sheetStore, requirements, pictures, designStore, onCloths);
  const designs = new DesignService(designStore, requirements, pictures, assets, deriver, judge, view, cache);
  const fontStore = new FontStore(database);
  const lettering: LetteringService = new LetteringService(type, fontStore, blobs, cache, (who) =>
    assets.lookAgainAtText(who, () => judge.forget()),
  );
  void assets
    .measureAgain(() => judge.forget())
    .catch((error: unknown) => log.warn({ err: error }, 'artwork could not be measured again'));
  const profiles = new ProfileService(new ProfileStore(database), requirements, blobs, intake, view, cache);
  const music = await MusicService.open(MUSIC, new MusicStore(database), blobs, intake, cache);
  const workshop = new Workshop(
    designStore,
    requirements,
    pictures,
    blanks,
    deriver,
    profiles,
    outputStore,
    music,
    assetStore,
  );
  const pictureSets = await PictureSetService.open(
    pictureSetFolder,
    new PictureSetStore(database),
    designStore,
    workshop,
    log,
  );
  const settings = new SettingStore(database);
  const outputs = new OutputService(designs, workshop, jobs, outputStore, judge, settings, sheetStore, pictureSets);
  const measures = new PressMeasureService(measureStore, designs, workshop, blobs, measure, onCloths);
  const packages = new PackageService(new PackageStore(database), outputs, designs, requirements, blobs);
  const publications = new PublicationStore(database);
  const channelRules = await OwnThings.open(
    { code: 'channel', name: 'channel', folder: CHANNEL_RULES, schema: channelRulesSchema },
    new OwnFieldsStore<ChannelRulesFields>(database, 'channel_rules'),
    log,
  );
  const printShops = await OwnThings.open(
    { code: 'print-shop', name: 'print shop', folder: PRINT_SHOPS, schema: printShopSchema },
    new OwnFieldsStore<PrintShopFields>(database, 'print_shop'),
    log,
  );
  const calls = new CallStore(database);
  const shopOrderStore = new ShopOrderStore(database);
  const listingStore = new ListingStore(database);
  const historyStore = new HistoryStore(database);
  const history = new HistoryService(designs, outputs, workshop, listingStore, channelRules, historyStore, settings);
  const shopOrders = new ShopOrderService(
    designs,
    outputs,
    outputStore,
    workshop,
    shopOrderStore,
    calls,
    printShops,
    markets,
  );
  const kinds = jobKinds({
    workshop,
    outputs: outputStore,
    sheet: sheetStore,
    blobs,
    cache,
    publications,
    places: markets,
    calls,
    channelRules,
    history,
    historyStore,
    shopOrders: shopOrderStore,
    shopWay: async (owner, shopId) => (await printShops.list({ owner })).find(({ id }) => id === shopId)?.by ?? null,
    by: async (owner, rulesId) => (await channelRules.list({ owner })).find(({ id }) => id === rulesId)?.by ?? null,
  });
  const inLanes = (lanes: readonly Lane[], pool: RenderPool): Worker =>
    new Worker(
      jobs,
      lanes.flatMap((lane) => kinds.filter((kind) => kind.lane === lane)),
      pool,
      log,
    );
  const keeper = new Keeper(
    new KeeperStore(database),
    [...DUTIES],
    DISK_DUTIES.map((duty) => duty(cache)),
    log,
  );
  return {
    database,
    log,
    disk,
    settings,
    remarks: new Map<'demo', string>(),
    gate: new GateStore(database),
    blobs,
    requirements,
    jobs,
    watch,
    deriver,
    blanks,
    ownBlanks: new OwnBlankService(blanks, assetStore, blobs, intake, cache),
    assets,
    pictures,
    pictureSets,
    profiles,
    designs,
    viewPool: view,
    pools: poolsOf(own),
    cache,
    outputs,
    packages,
    measures,
    music,
    clipRequirements: await OwnThings.open(
      CLIP_REQUIREMENT_WORDS,
      new OwnFieldsStore<ClipRequirementFields>(database, 'clip_requirement'),
      log,
    ),
    channelRules,
    listings: new ListingService(
      designs,
      outputs,
      outputStore,
      workshop,
      listingStore,
      publications,
      calls,
      channelRules,
      blobs,
      view,
      markets,
      settings,
    ),
    publications,
    marketAnswers: new MarketAnswers(markets, publications, {
      channelsBy: async (by) =>
        (await channelRules.list(SELLER)).filter((rules) => rules.by === by).map(({ id }) => id),
      shopTold: (reference) => shopOrders.told(reference),
      sold: (by, publication, sale) => history.hear(by, publication, sale),
    }),
    printShops,
    shopOrders,
    clientPages: new ClientPageService(
      designs,
      outputs,
      outputStore,
      workshop,
      new ClientPageStore(database),
      blobs,
      view,
      listingStore,
      cache,
    ),
    printRuns: new PrintRunService(designs, outputs, new PrintRunStore(database), printShops, blobs, view, cache),
    history,
    failures: new FailureService(designs, new FailureStore(database), outputs),
    clips: new ClipService(designs, workshop, outputs, outputStore, blobs, intake, cache),
    library: new RequirementLibrary(requirements, profiles),
    graphics: new GraphicsService(view),
    lettering,
    designFiles: new DesignFileService(
      designs,
      requirements,
      assetStore,
      assets,
      fontStore,
      lettering,
      blobs,
      intake,
      cache,
    ),
    mockupFiles: new MockupFileService(designs, workshop, blobs, view, cache),
    sheet: new SheetService(sheetStore, designStore, requirements, judge, pictureSets, publications, log),
    workers: new Workers(jobs, [
      inLanes(['soon'], soon),
      // Markets take their time: nobody else waits for them.
      inLanes(['calls'], soon),
      // A row of listing pictures keeps all cores busy too, where no print file waits.
      ...Array.from({ length: exporters }, () => inLanes(['export', 'soon'], make)),
    ]),
    keeper,
    kinds,
    outputStore,
    async close(): Promise<void> {
      watch.stop();
      await keeper.stop();
      disk.stop();
      if (!pools) for (const pool of poolsOf(own)) pool.close();
      await database.close();
    },
  };
}

export type House = Awaited<ReturnType<typeof openHouse>>;
