import { HttpClient, HttpErrorResponse, HttpEventType } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import type {
  Session,
  Asset,
  ClipFile,
  KeptListing,
  ListingAnswer,
  ClipMakers,
  ClipRun,
  MusicChange,
  DesignFileAnswer,
  Failure,
  FontFamily,
  Graphic,
  ImportPlan,
  Job,
  JobStep,
  LetteringAnswer,
  LetteringRequest,
  ListedBlank,
  Naming,
  Package,
  PackageDetail,
  PackageRequest,
  Picture,
  PictureRun,
  PicturesRequest,
  PressProfile,
  PrintFile,
  Problem,
  RevisionRow,
  RunRequest,
  SavedDesign,
  Sheet,
  SheetRow,
  TracedPicture,
} from '@kettle/contract';
import type {
  ChannelRules,
  ListingFields,
  AreaGrid,
  Blank,
  ClipFileKind,
  ClipRequirement,
  ClipRequirementFields,
  ClipShape,
  Cloth,
  ColourConversion,
  DesignDocument,
  OwnBlankSource,
  PictureSet,
  PictureSetFields,
  PressMeasure,
  Requirement,
  RequirementFields,
  MusicTrack,
  Treatment,
} from '@kettle/core';
import { EMPTY, expand, filter, map, scan, switchMap, timer, type Observable } from 'rxjs';

/** Rows of the sheet that are asked for first, and in each part after that. */
const [FIRST_ROWS, MORE_ROWS] = [24, 400];

/** The server's calls, typed. Nothing else in the interface speaks HTTP. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  /**
   * The sheet as it comes in: the first screenful at once, the rest in larger parts, each time with all rows so far.
   */
  sheet(): Observable<Sheet> {
    const part = (from: number, count: number) => this.http.get<Sheet>(`/api/sheet?from=${from}&count=${count}`);
    return part(0, FIRST_ROWS).pipe(
      // The first rows are on the screen before the browser is given more to do.
      expand((sheet, index) => {
        const from = FIRST_ROWS + index * MORE_ROWS;
        return sheet.rows.length && from < sheet.total
          ? timer(index === 0 ? 300 : 0).pipe(switchMap(() => part(from, MORE_ROWS)))
          : EMPTY;
      }),
      scan((all, next) => ({ ...next, rows: [...all.rows, ...next.rows] })),
    );
  }

  /** The rows of some designs, as they are now. Those that are off the sheet are not among them. */
  sheetRows(designIds: readonly string[]): Observable<readonly SheetRow[]> {
    return this.http
      .get<{ rows: SheetRow[] }>(`/api/sheet?designs=${designIds.join(',')}`)
      .pipe(map(({ rows }) => rows));
  }

  requirements(): Observable<Requirement[]> {
    return this.http.get<Requirement[]>('/api/requirements');
  }
  addRequirement(fields: RequirementFields): Observable<Requirement> {
    return this.http.post<Requirement>('/api/requirements', fields);
  }
  changeRequirement(id: string, revision: number, fields: RequirementFields): Observable<Requirement> {
    return this.http.put<Requirement>(`/api/requirements/${id}`, fields, { headers: { 'If-Match': `"${revision}"` } });
  }
  removeRequirement(id: string): Observable<void> {
    return this.http.delete<void>(`/api/requirements/${id}`);
  }

  failures(designId: string): Observable<Failure[]> {
    return this.http.get<Failure[]>(`/api/designs/${designId}/failures`);
  }
  tryAgain(designId: string, failureId: string): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(`/api/designs/${designId}/failures/${failureId}/again`, null);
  }
  dismissFailure(designId: string, failureId: string): Observable<void> {
    return this.http.delete<void>(`/api/designs/${designId}/failures/${failureId}`);
  }

  design(id: string): Observable<SavedDesign> {
    return this.http.get<SavedDesign>(`/api/designs/${id}`);
  }
  addDesign(document: DesignDocument): Observable<SavedDesign> {
    return this.http.post<SavedDesign>('/api/designs', document);
  }
  /** `last` lets the request outlive the page. */
  saveDesign(id: string, revision: number, document: DesignDocument, last = false): Observable<SavedDesign> {
    return this.http.put<SavedDesign>(`/api/designs/${id}`, document, {
      headers: { 'If-Match': `"${revision}"` },
      keepalive: last,
    });
  }
  removeDesign(id: string): Observable<void> {
    return this.http.delete<void>(`/api/designs/${id}`);
  }
  restoreDesign(id: string): Observable<SavedDesign> {
    return this.http.post<SavedDesign>(`/api/designs/${id}/restore`, {});
  }
  revisions(id: string): Observable<RevisionRow[]> {
    return this.http.get<RevisionRow[]>(`/api/designs/${id}/revisions`);
  }

  revision(id: string, revision: number): Observable<SavedDesign> {
    return this.http.get<SavedDesign>(`/api/designs/${id}/revisions/${revision}`);
  }

  /** An empty name takes it away. */
  nameRevision(id: string, revision: number, name: string): Observable<void> {
    return this.http.put<void>(`/api/designs/${id}/revisions/${revision}/name`, { name });
  }
  takeDesignFile(file: File): Observable<DesignFileAnswer> {
    return this.http.post<DesignFileAnswer>('/api/design-files', file, {
      headers: { 'Content-Type': 'application/octet-stream', 'X-Filename': encodeURIComponent(file.name) },
    });
  }

  /** A picture redrawn as outlines. */
  trace(id: string, treatments: readonly Treatment[], colours: number): Observable<TracedPicture> {
    return this.http.post<TracedPicture>(`/api/assets/${id}/trace`, { treatments, colours });
  }
  /** What is known of a picture once it is treated. */
  treated(id: string, treatments: readonly Treatment[]): Observable<Asset> {
    return this.http.post<Asset>(`/api/assets/${id}/treated`, { treatments });
  }
  setFace(id: string, family: string): Observable<Asset> {
    return this.http.post<Asset>(`/api/assets/${id}/face`, { family });
  }
  asset(id: string): Observable<Asset> {
    return this.http.get<Asset>(`/api/assets/${id}`);
  }
  /** Sends a file and tells the share sent, 0 to 1, until the asset is there. */
  upload(file: File): Observable<{ sent: number; asset: Asset | null }> {
    return this.http
      .post<Asset>('/api/assets', file, {
        headers: {
          'Content-Type': file.type || 'application/octet-stream',
          'X-Filename': encodeURIComponent(file.name),
        },
        observe: 'events',
      })
      .pipe(
        filter((event) => event.type === HttpEventType.Response || event.type === HttpEventType.Sent),
        map((event) =>
          event.type === HttpEventType.Response ? { sent: 1, asset: event.body } : { sent: 0, asset: null },
        ),
      );
  }

  /** Files of the very revision that was looked at. */
  makePrintFiles(id: string, revision: number, requirementIds: readonly string[]): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(`/api/designs/${id}/print-files`, { requirementIds, revision });
  }
  printFiles(id: string): Observable<PrintFile[]> {
    return this.http.get<PrintFile[]>(`/api/designs/${id}/print-files`);
  }
  makePictures(id: string, request: PicturesRequest): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(`/api/designs/${id}/pictures`, request);
  }
  /** Listing pictures of many designs in one run. */
  runPictures(run: PictureRun): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>('/api/picture-runs', run);
  }
  pictureSets(): Observable<PictureSet[]> {
    return this.http.get<PictureSet[]>('/api/picture-sets');
  }
  addPictureSet(fields: PictureSetFields): Observable<PictureSet> {
    return this.http.post<PictureSet>('/api/picture-sets', fields);
  }
  changePictureSet(id: string, revision: number, fields: PictureSetFields): Observable<PictureSet> {
    return this.http.put<PictureSet>(`/api/picture-sets/${id}`, fields, { headers: { 'If-Match': `"${revision}"` } });
  }
  removePictureSet(id: string): Observable<void> {
    return this.http.delete<void>(`/api/picture-sets/${id}`);
  }
  usePictureSet(designIds: readonly string[], setId: string | null): Observable<void> {
    return this.http.post<void>('/api/picture-sets/use', { designIds, setId });
  }
  makeProofSheet(
    id: string,
    asked: { revision: number; requirementId: string; version: Cloth | null },
  ): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(`/api/designs/${id}/proof-sheets`, asked);
  }
  pictures(id: string): Observable<Picture[]> {
    return this.http.get<Picture[]>(`/api/designs/${id}/pictures`);
  }
  job(id: string): Observable<Job> {
    return this.http.get<Job>(`/api/jobs/${id}`);
  }
  /** Print files of many designs in one run. No requirements named stands for all of a design's. */
  run(targets: RunRequest['targets']): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>('/api/runs', { targets });
  }
  jobSteps(id: string): Observable<JobStep[]> {
    return this.http.get<JobStep[]>(`/api/jobs/${id}/steps`);
  }
  pauseJob(id: string): Observable<Job> {
    return this.http.post<Job>(`/api/jobs/${id}/pause`, {});
  }
  resumeJob(id: string): Observable<Job> {
    return this.http.post<Job>(`/api/jobs/${id}/resume`, {});
  }
  naming(): Observable<Naming> {
    return this.http.get<Naming>('/api/naming');
  }
  setNaming(naming: Naming): Observable<Naming> {
    return this.http.put<Naming>('/api/naming', naming);
  }
  packages(): Observable<Package[]> {
    return this.http.get<Package[]>('/api/packages');
  }
  pack(request: PackageRequest): Observable<PackageDetail> {
    return this.http.post<PackageDetail>('/api/packages', request);
  }
  package(id: string): Observable<PackageDetail> {
    return this.http.get<PackageDetail>(`/api/packages/${id}`);
  }
  /** The bytes of a file that was packed or made. */
  bytes(address: string): Observable<Blob> {
    return this.http.get(address, { responseType: 'blob' });
  }
  profiles(): Observable<PressProfile[]> {
    return this.http.get<PressProfile[]>('/api/profiles');
  }
  addProfile(file: File): Observable<PressProfile> {
    return this.http.post<PressProfile>('/api/profiles', file, {
      headers: { 'Content-Type': 'application/octet-stream', 'X-Filename': encodeURIComponent(file.name) },
    });
  }
  /** Tables of a conversion: inks, then how they look. */
  proof({ profile, intent, blackPoint }: ColourConversion, paper: boolean): Observable<ArrayBuffer> {
    const named = profile ? `profile=${profile}&` : '';
    return this.http.get(`/api/proof?${named}intent=${intent}&blackPoint=${blackPoint}&paper=${paper}`, {
      responseType: 'arraybuffer',
    });
  }
  /** What is measured on a target as it was saved last. */
  measure(
    id: string,
    requirementId: string,
    version: Cloth | null,
  ): Observable<{ revision: number; measured: PressMeasure | null }> {
    return this.http.get<{ revision: number; measured: PressMeasure | null }>(
      `/api/designs/${id}/measure?requirement=${requirementId}${version ? `&version=${version}` : ''}`,
    );
  }
  /** What a file of requirements would change, or, with `apply`, did. */
  importRequirements(text: string, apply: boolean): Observable<ImportPlan> {
    return this.http.post<ImportPlan>('/api/requirements/import', { text, apply });
  }

  cancelJob(id: string): Observable<Job> {
    return this.http.delete<Job>(`/api/jobs/${id}`);
  }

  fonts(): Observable<FontFamily[]> {
    return this.http.get<FontFamily[]>('/api/fonts');
  }
  addFont(file: File): Observable<FontFamily> {
    return this.http.post<FontFamily>('/api/fonts', file, {
      headers: { 'Content-Type': 'application/octet-stream', 'X-Filename': encodeURIComponent(file.name) },
    });
  }
  removeFont(id: string): Observable<void> {
    return this.http.delete<void>(`/api/fonts/${id}`);
  }
  graphics(): Observable<Graphic[]> {
    return this.http.get<Graphic[]>('/api/graphics');
  }
  setText(request: LetteringRequest): Observable<LetteringAnswer> {
    return this.http.post<LetteringAnswer>('/api/lettering', request);
  }

  /** Whether the server has a password, and what its keeper should know. */
  session(): Observable<Session> {
    return this.http.get<Session>('/api/session');
  }

  areaGrid(blankId: string, areaId: string): Observable<AreaGrid> {
    return this.http.get<AreaGrid>(`/api/blanks/${blankId}/areas/${areaId}/grid`);
  }

  makeBlank(source: OwnBlankSource): Observable<{ blank: Blank; doubts: string[] }> {
    return this.http.post<{ blank: Blank; doubts: string[] }>('/api/blanks', source);
  }
  changeBlank(id: string, source: OwnBlankSource): Observable<{ blank: Blank; doubts: string[] }> {
    return this.http.put<{ blank: Blank; doubts: string[] }>(`/api/blanks/${id}`, source);
  }
  /** What an own blank was made from; null for one that came as a pack. */
  blankSource(id: string): Observable<OwnBlankSource | null> {
    return this.http.get<OwnBlankSource | null>(`/api/blanks/${id}/source`);
  }
  importBlank(file: File): Observable<Blank> {
    return this.http.post<Blank>('/api/blanks/import', file, {
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  }
  removeBlank(id: string): Observable<void> {
    return this.http.delete<void>(`/api/blanks/${id}`);
  }

  restoreBlank(id: string): Observable<Blank> {
    return this.http.post<Blank>(`/api/blanks/${id}/restore`, {});
  }

  tracks(): Observable<MusicTrack[]> {
    return this.http.get<MusicTrack[]>('/api/music');
  }
  track(id: string): Observable<MusicTrack> {
    return this.http.get<MusicTrack>(`/api/music/${encodeURIComponent(id)}`);
  }
  clips(designId: string): Observable<ClipFile[]> {
    return this.http.get<ClipFile[]>(`/api/designs/${designId}/clips`);
  }
  keepClip(
    designId: string,
    of: {
      readonly clip: string;
      readonly revision: number;
      readonly side: number;
      readonly shape: ClipShape;
      readonly file: ClipFileKind;
    },
    bytes: ArrayBuffer,
  ): Observable<ClipFile> {
    return this.http.post<ClipFile>(`/api/designs/${designId}/clips`, bytes, {
      params: { ...of },
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  }

  /** Kinds of clips that the server makes by itself. */
  clipMakers(): Observable<ClipMakers> {
    return this.http.get<ClipMakers>('/api/clip-makers');
  }
  runClips(run: ClipRun): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>('/api/clip-runs', run);
  }
  /** @param cover a JPEG of the clip's size */
  keepCover(clipId: string, cover: ArrayBuffer): Observable<void> {
    return this.http.put<void>(`/api/clips/${clipId}/cover`, cover, {
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  }
  channelRules(): Observable<ChannelRules[]> {
    return this.http.get<ChannelRules[]>('/api/channel-rules');
  }
  listing(designId: string): Observable<ListingAnswer> {
    return this.http.get<ListingAnswer>(`/api/designs/${designId}/listing`);
  }
  saveListing(designId: string, revision: number, fields: ListingFields): Observable<ListingAnswer> {
    return this.http.put<ListingAnswer>(`/api/designs/${designId}/listing`, fields, {
      headers: { 'If-Match': `"${revision}"` },
    });
  }
  listings(): Observable<KeptListing[]> {
    return this.http.get<KeptListing[]>('/api/listings');
  }
  /** Sends a design's listing to markets. */
  publish(designId: string, channels: readonly string[], draft = false): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(
      `/api/designs/${designId}/publications`,
      draft ? { channels, draft } : { channels },
    );
  }
  takeDown(publicationId: string): Observable<{ jobId: string }> {
    return this.http.post<{ jobId: string }>(`/api/publications/${publicationId}/take-down`, {});
  }
  clipRequirements(): Observable<ClipRequirement[]> {
    return this.http.get<ClipRequirement[]>('/api/clip-requirements');
  }
  addClipRequirement(fields: ClipRequirementFields): Observable<ClipRequirement> {
    return this.http.post<ClipRequirement>('/api/clip-requirements', fields);
  }
  changeClipRequirement(id: string, revision: number, fields: ClipRequirementFields): Observable<ClipRequirement> {
    return this.http.put<ClipRequirement>(`/api/clip-requirements/${id}`, fields, {
      headers: { 'If-Match': `"${revision}"` },
    });
  }
  removeClipRequirement(id: string): Observable<void> {
    return this.http.delete<void>(`/api/clip-requirements/${id}`);
  }
  addMusic(file: File): Observable<MusicTrack> {
    return this.http.post<MusicTrack>('/api/music', file, {
      headers: { 'Content-Type': 'application/octet-stream', 'X-Filename': encodeURIComponent(file.name) },
    });
  }
  changeMusic(id: string, change: MusicChange): Observable<MusicTrack> {
    return this.http.put<MusicTrack>(`/api/music/${id}`, change);
  }
  removeMusic(id: string): Observable<void> {
    return this.http.delete<void>(`/api/music/${id}`);
  }

  blanks(): Observable<ListedBlank[]> {
    return this.http.get<ListedBlank[]>('/api/blanks');
  }
}

/** What a failed call means, as the server said it or as far as the browser can tell. */
export function sentenceOf(error: unknown): string {
  if (error instanceof HttpErrorResponse) {
    if (error.status === 0)
      return 'The server cannot be reached just now. What you typed stays on this page; press again when it answers.';
    const problem = problemOf(error);
    if (problem) return problem.detail;
  }
  return 'Something unexpected happened. Nothing that was saved is lost; try again.';
}

export function problemOf(error: unknown): Problem | null {
  const body = error instanceof HttpErrorResponse ? (error.error as unknown) : null;
  const parsed = typeof body === 'string' ? safeParse(body) : body;
  return parsed && typeof parsed === 'object' && 'detail' in parsed && 'code' in parsed ? (parsed as Problem) : null;
}

/** True when the server or its database is away, so that trying again later makes sense. */
export const isAway = (error: unknown): boolean =>
  error instanceof HttpErrorResponse && (error.status === 0 || error.status === 503);

function safeParse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
