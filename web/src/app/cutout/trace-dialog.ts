import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { DomSanitizer } from '@angular/platform-browser';
import type { TracedPicture } from '@kettle/contract';
import type { PictureLayer } from '@kettle/core/model';
import { treatmentName } from '@kettle/core/treatments';
import { kindOf } from '@kettle/core/layers';
import { catchError, debounceTime, of, switchMap, tap } from 'rxjs';
import { Api } from '../data/api';
import { sentenceOf } from '../data/problems';
import { SlideField } from '../units/slide-field';

/** A picture redrawn as outlines, edge for edge beside the original, before it is taken. */
@Component({
  selector: 'ks-trace-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, SlideField],
  template: `
    <h2 mat-dialog-title>Redraw “{{ layer.name }}” as outlines</h2>
    <mat-dialog-content>
      <p class="quiet">
        Outlines are sharp at any size, and each colour can be changed. The picture stays in the design, hidden.
      </p>
      <ks-slide-field label="Colours" [value]="colours()" [least]="2" [most]="24" (moved)="colours.set($event)" />
      <div class="pair" [class.working]="working()">
        <figure>
          <img [src]="original" alt="The picture as it is" />
          <figcaption>The picture</figcaption>
        </figure>
        <figure>
          @if (drawn(); as src) {
            <img [src]="src" alt="The picture as outlines" />
          }
          <figcaption>{{ words() }}</figcaption>
        </figure>
      </div>
      @if (complaint()) {
        <p class="wrong" role="alert">{{ complaint() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" mat-dialog-close>Leave it</button>
      <button mat-flat-button type="button" [disabled]="!traced() || working()" (click)="reference.close(traced())">
        Use the outlines
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 14px;
    }
    .working figure:last-child img {
      opacity: 0.45;
    }
    figure {
      margin: 0;
    }
    img {
      width: 100%;
      height: 46vh;
      object-fit: contain;
      border-radius: 10px;
      background: conic-gradient(#d9d5ca 25%, #fff 0 50%, #d9d5ca 0 75%, #fff 0) 0 0 / 20px 20px;
    }
    figcaption {
      font-size: 12.5px;
      color: var(--quiet);
      margin-top: 4px;
    }
    .wrong {
      color: var(--mend);
    }
  `,
})
export class TraceDialog {
  protected readonly layer = inject<PictureLayer>(MAT_DIALOG_DATA);
  protected readonly reference = inject<MatDialogRef<TraceDialog, TracedPicture | null>>(MatDialogRef);
  private readonly api = inject(Api);
  private readonly sanitizer = inject(DomSanitizer);
  private readonly treatments = kindOf(this.layer).treatmentsOf(this.layer) ?? [];
  protected readonly original = `/api/assets/${this.layer.assetId}/rendition?size=1024${treatmentName(this.treatments) && `&treated=${treatmentName(this.treatments)}`}`;
  protected readonly colours = signal(6);
  protected readonly traced = signal<TracedPicture | null>(null);
  protected readonly working = signal(true);
  protected readonly complaint = signal('');
  protected readonly drawn = computed(() => {
    const traced = this.traced();
    if (!traced) return null;
    const { box, parts } = traced;
    const paths = parts.map(({ path, fill }) => `<path d="${path}" fill="${String(fill)}"/>`).join('');
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${box.width} ${box.height}">${paths}</svg>`;
    return this.sanitizer.bypassSecurityTrustUrl(`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`);
  });
  protected readonly words = computed(() => {
    const traced = this.traced();
    if (this.working()) return 'Redrawing …';
    return traced
      ? `${traced.parts.length} ${traced.parts.length === 1 ? 'part' : 'parts'}; ${(traced.differing * 100).toFixed(1)} % differs from the picture`
      : '';
  });

  constructor() {
    toObservable(this.colours)
      .pipe(
        tap(() => this.working.set(true)),
        debounceTime(200),
        switchMap((colours) =>
          this.api
            .ask('post /api/assets/{id}/trace', {
              id: this.layer.assetId,
              body: { treatments: this.treatments, colours },
            })
            .pipe(
              tap(() => this.complaint.set('')),
              catchError((error: unknown) => {
                this.complaint.set(sentenceOf(error));
                return of(null);
              }),
            ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((traced) => {
        this.traced.set(traced);
        this.working.set(false);
      });
  }
}
