import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { Asset, SavedDesign, SheetRow } from '@kettle/contract';
import { cutText, shortName } from '@kettle/core/text';
import type { DesignDocument } from '@kettle/core/model';
import { fillTemplate, gapsOf, type TemplateFilling } from '@kettle/core/document';
import { concatMap, forkJoin, map, of, switchMap, throwError, type Observable } from 'rxjs';
import { Api } from '../data/api';
import { Intake, nameOf } from '../data/intake';
import { Notices } from '../data/notices';
import { FilePicker } from '../units/file-picker';
import { TypedValue } from '../units/typed-value';

/**
 * A new design from a starting point: its words and pictures are replaced, the arrangement stays. Closes with the
 * design.
 */
@Component({
  selector: 'ks-template-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FilePicker, TypedValue, MatButtonModule, MatDialogModule, MatIconModule],
  template: `
    <h2 mat-dialog-title>Start from …</h2>
    @if (!chosen()) {
      <div class="templates">
        @for (row of data; track row.designId) {
          <button type="button" (click)="choose(row)">
            <img
              [src]="'/api/designs/' + row.designId + '/miniature?size=160&r=' + row.revision"
              alt=""
              [style.background]="row.cells[0]?.garment ?? '#fff'"
            /><b>{{ row.name }}</b>
          </button>
        }
      </div>
    } @else {
      <div class="filling">
        <label
          >Name of the new design<input
            #name
            cdkFocusInitial
            maxlength="120"
            [ksValue]="title()"
            (input)="title.set(name.value)"
        /></label>
        @for (gap of gaps().texts; track gap.id) {
          <label
            >Words in place of “{{ gap.text }}”<textarea
              #words
              rows="2"
              dir="auto"
              maxlength="300"
              [ksValue]="gap.id in texts() ? texts()[gap.id] : gap.text"
              (input)="write(gap.id, words.value)"
            ></textarea>
          </label>
        }
        @for (gap of gaps().pictures; track gap.id) {
          <div class="picture">
            <img
              [src]="'/api/assets/' + (pictures()[gap.id]?.id ?? gap.assetId) + '/rendition?size=256'"
              alt=""
            /><span>{{ pictures()[gap.id]?.filename ?? gap.name }}</span>
            <button mat-stroked-button type="button" (click)="file.open()">Another picture</button
            ><ks-file-picker
              #file
              kinds="artwork"
              [label]="'Picture in place of ' + gap.name"
              (chosen)="put(gap.id, $event)"
            />
          </div>
        }
      </div>
      <div class="acts">
        <button mat-button type="button" (click)="chosen.set(null)">Another one</button
        ><button mat-flat-button type="button" [disabled]="making() || !title().trim()" (click)="make()">
          Make the design
        </button>
      </div>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      max-height: 84vh;
      padding: 18px 22px;
    }
    h2 {
      margin: 0 0 10px;
      padding: 0;
      font: 600 20px var(--serif);
    }
    h2::before {
      display: none;
    }
    .templates {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
      gap: 12px;
      overflow: auto;
      padding: 3px;
    }
    .templates button {
      border: 1px solid var(--rule);
      border-radius: 12px;
      background: var(--paper);
      cursor: pointer;
      padding: 10px;
      display: grid;
      gap: 8px;
    }
    .templates img {
      width: 100%;
      height: 130px;
      object-fit: contain;
      border-radius: 8px;
    }
    .filling {
      overflow: auto;
      display: grid;
      gap: 12px;
      padding: 3px;
    }
    label {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
    }
    input:not([type='file']),
    textarea {
      display: block;
      width: 100%;
      margin-top: 3px;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 7px 10px;
      font: 500 13.5px var(--sans);
      background: var(--paper);
      color: var(--ink);
    }
    .picture {
      display: flex;
      align-items: center;
      gap: 12px;
    }
    .picture img {
      width: 56px;
      height: 56px;
      object-fit: contain;
      border: 1px solid var(--rule);
      border-radius: 8px;
      background: #c8c3b6;
    }
    .picture span {
      flex: 1;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .acts {
      display: flex;
      justify-content: end;
      gap: 8px;
      padding-top: 14px;
    }
  `,
})
export class TemplateDialog {
  /** The sheet's templates. */
  protected readonly data = inject<readonly SheetRow[]>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<TemplateDialog, SavedDesign>>(MatDialogRef);
  private readonly api = inject(Api);
  private readonly intake = inject(Intake);
  private readonly notices = inject(Notices);
  protected readonly chosen = signal<DesignDocument | null>(null);
  protected readonly title = signal('');
  protected readonly texts = signal<Readonly<Record<string, string>>>({});
  protected readonly pictures = signal<Readonly<Record<string, Asset>>>({});
  protected readonly making = signal(false);
  protected readonly gaps = computed(() => {
    const chosen = this.chosen();
    return chosen ? gapsOf(chosen) : { texts: [], pictures: [] };
  });

  protected choose(row: SheetRow): void {
    this.api.ask('get /api/designs/{id}', { id: row.designId }).subscribe({
      next: ({ document }) => {
        this.texts.set({});
        this.pictures.set({});
        this.title.set(shortName(`${cutText(document.name, 118)} 2`, 120, 'Untitled design'));
        this.chosen.set(document);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected write(id: string, text: string): void {
    this.texts.update((texts) => ({ ...texts, [id]: text }));
  }
  protected put(id: string, files: readonly File[]): void {
    this.intake
      .takeIn(files.slice(0, 1))
      .subscribe((asset) => this.pictures.update((pictures) => ({ ...pictures, [id]: asset })));
  }

  protected make(): void {
    const template = this.chosen();
    if (!template) return;
    this.making.set(true);
    this.settings(template)
      .pipe(
        concatMap((texts) => {
          const pictures = Object.fromEntries(
            Object.entries(this.pictures()).map(([id, { id: assetId, filename, width, height }]) => [
              id,
              { assetId, name: nameOf(filename), width, height },
            ]),
          );
          return this.api.ask('post /api/designs', {
            body: fillTemplate(template, this.title().trim(), { texts, pictures }),
          });
        }),
      )
      .subscribe({
        next: (design) => this.dialog.close(design),
        error: (error: unknown) => {
          this.making.set(false);
          this.notices.complain(error);
        },
      });
  }

  /** The new words, set in the template's faces. */
  private settings(template: DesignDocument): Observable<TemplateFilling['texts']> {
    const wanted = template.layers.flatMap((layer) =>
      layer.kind === 'text' && this.texts()[layer.id] !== undefined && this.texts()[layer.id] !== layer.text
        ? [layer]
        : [],
    );
    if (!wanted.length) return of({});
    return forkJoin(
      wanted.map((layer) => {
        const text = this.texts()[layer.id];
        return this.api
          .ask('post /api/lettering', { body: { text, fontId: layer.fontId, settings: layer.settings } })
          .pipe(
            switchMap(({ outlines, missing }) => {
              if (missing.length || !outlines)
                return throwError(
                  () =>
                    `The face of “${layer.name}” ${outlines ? `has no ${missing.join(' ')}` : 'shows nothing of these words'}. Write other words; the face can be changed afterwards.`,
                );
              return of([layer.id, { text, outlines }] as const);
            }),
          );
      }),
    ).pipe(map((all) => Object.fromEntries(all)));
  }
}
