import { ChangeDetectionStrategy, Component, ElementRef, inject, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { LENGTH_UNITS } from '@kettle/core/units';
import { EMPTY, catchError, switchMap, timer } from 'rxjs';
import { toSignal } from '@angular/core/rxjs-interop';
import { Api } from './data/api';
import { Savings } from './data/savings';
import { Missing } from './data/missing';
import { Waits } from './data/waits';
import { Preferences } from './data/preferences';
import { JobFeed } from './jobs/job-feed';
import { Finder } from './shell/finder';
import { ProblemMenu } from './shell/problem-menu';

const SESSION_MS = 20_000;

@Component({
  selector: 'ks-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    MatButtonModule,
    MatIconModule,
    MatTooltipModule,
    Finder,
    ProblemMenu,
  ],
  template: `
    <a class="skip" href="#main" (click)="skip($event)">Skip to the work</a>
    <header class="top">
      <a class="brand serif" routerLink="/"><img src="mark.svg" alt="" width="24" height="24" /> Kettle Sheet</a>
      <nav aria-label="Main">
        <a routerLink="/" routerLinkActive="on" [routerLinkActiveOptions]="{ exact: true }" ariaCurrentWhenActive="page"
          >Job sheet</a
        >
        <a routerLink="/requirements" routerLinkActive="on" ariaCurrentWhenActive="page">Requirements</a>
        <a routerLink="/channels" routerLinkActive="on" ariaCurrentWhenActive="page">Channels</a>
        <a routerLink="/became" routerLinkActive="on" ariaCurrentWhenActive="page">Outcome</a>
      </nav>
      <ks-finder />
      <span class="grow"></span>
      <ks-problem-menu />
      @if (session()?.heard; as heard) {
        <a
          class="heard"
          role="status"
          [routerLink]="['/designs', heard.designId, 'hand-over']"
          [queryParams]="{ desk: 'client' }"
          >{{ heard.count }} new from clients</a
        >
      }
      @if (feed.busy().length) {
        <div class="job" role="status">
          <span
            >Making {{ feed.done() + 1 > feed.total() ? feed.total() : feed.done() + 1 }} of {{ feed.total() }}</span
          >
          <span class="bar" aria-hidden="true"
            ><i [style.width.%]="(100 * (feed.done() + feed.within())) / feed.total()"></i
          ></span>
          <button class="stop" type="button" (click)="feed.cancel(feed.busy())">Cancel</button>
        </div>
      }
      <div class="units" role="radiogroup" aria-label="Unit of length">
        @for (unit of units; track unit) {
          <button
            type="button"
            role="radio"
            [attr.aria-checked]="preferences.unit() === unit"
            (click)="preferences.unit.set(unit)"
          >
            {{ unit }}
          </button>
        }
      </div>
      <button
        type="button"
        class="theme"
        [attr.aria-label]="preferences.theme() === 'light' ? 'Dark colours' : 'Light colours'"
        (click)="preferences.theme.set(preferences.theme() === 'light' ? 'dark' : 'light')"
      >
        <mat-icon [svgIcon]="preferences.theme() === 'light' ? 'moon' : 'sun'" />
      </button>
      @if (session()?.gated) {
        <form method="post" action="/sign-out"><button type="submit" class="stop">Sign out</button></form>
      }
    </header>
    @if (waits.isWaiting()) {
      <p class="keeper" role="status">
        The server does not answer all that this page asks for. It is asked again by itself; what you typed stays.
        <button type="button" class="stop" (click)="waits.again()">Try again now</button>
      </p>
    }
    @for (sentence of missing.sentences(); track sentence) {
      <p class="keeper" role="alert">
        {{ sentence }} <button type="button" class="stop" (click)="missing.again(sentence)">Try again</button>
      </p>
    }
    @if (session()?.notice; as notice) {
      <p class="keeper" role="alert">{{ notice }}</p>
    }
    <main id="main" #main tabindex="-1"><router-outlet /></main>
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: 100vh;
    }
    .top {
      flex: 0 0 54px;
    }
    main {
      flex: 1;
    }
    .keeper {
      margin: 0;
      padding: 8px 22px;
      background: var(--mend-ground);
      color: var(--mend);
      font-weight: 550;
    }
    .skip {
      position: absolute;
      left: 12px;
      top: -60px;
      background: var(--raised);
      padding: 8px 14px;
      z-index: 10;
      border-radius: 8px;
    }
    .skip:focus {
      top: 8px;
    }
    .top {
      display: flex;
      align-items: center;
      gap: 18px;
      padding: 0 22px;
      border-bottom: 1px solid var(--rule);
    }
    .brand {
      display: flex;
      gap: 10px;
      align-items: center;
      font-size: 20px;
      color: var(--ink);
      text-decoration: none;
      white-space: nowrap;
    }
    nav {
      display: flex;
      gap: 4px;
    }
    nav a {
      padding: 7px 12px;
      border-radius: 99px;
      color: var(--quiet);
      font-weight: 550;
      text-decoration: none;
      white-space: nowrap;
    }
    nav a.on {
      background: var(--enamel-light);
      color: var(--enamel);
    }
    .heard {
      font-size: 12.5px;
      font-weight: 600;
      color: var(--copper);
      white-space: nowrap;
    }
    .job {
      display: flex;
      align-items: center;
      gap: 10px;
      font-size: 12px;
      color: var(--quiet);
      white-space: nowrap;
    }
    .bar {
      width: 90px;
      height: 6px;
      border-radius: 9px;
      background: var(--rule);
      overflow: hidden;
    }
    @media (max-width: 1180px) {
      .bar {
        display: none;
      }
    }
    .bar i {
      display: block;
      height: 100%;
      background: var(--copper);
      transition: width 0.2s;
    }
    .stop {
      border: 0;
      background: none;
      font: 600 12px var(--sans);
      color: var(--enamel);
      cursor: pointer;
      padding: 4px 6px;
      border-radius: 6px;
    }
    ks-finder {
      flex: 0 1 280px;
      min-width: 110px;
    }
    .units {
      flex: none;
      display: flex;
      border: 1px solid var(--rule);
      border-radius: 8px;
      overflow: hidden;
      background: var(--raised);
    }
    .units button {
      border: 0;
      background: none;
      padding: 5px 9px;
      font: 500 12px var(--sans);
      color: var(--quiet);
      cursor: pointer;
    }
    .units [aria-checked='true'] {
      background: var(--night);
      color: #fff;
      font-weight: 650;
    }
    .units button:focus-visible {
      outline-offset: -3px;
    }
    .theme {
      border: 0;
      background: none;
      cursor: pointer;
      padding: 6px;
      border-radius: 8px;
      color: var(--quiet);
      display: flex;
    }
    main {
      min-height: 0;
      overflow: hidden;
      outline: none;
    }
  `,
})
export class App {
  protected readonly feed = inject(JobFeed);
  protected readonly waits = inject(Waits);
  protected readonly missing = inject(Missing);
  private readonly api = inject(Api);
  protected readonly preferences = inject(Preferences);
  protected readonly units = LENGTH_UNITS;
  /** Asked for now and then: room on a disk changes by itself, and clients say something when they will. */
  protected readonly session = toSignal(
    // eslint-disable-next-line no-restricted-syntax -- it is asked again in a moment
    timer(0, SESSION_MS).pipe(switchMap(() => this.api.ask('get /api/session').pipe(catchError(() => EMPTY)))),
  );
  private readonly main = viewChild.required<ElementRef<HTMLElement>>('main');

  /** Nothing that a closed page left behind waits for its design to be opened. */
  constructor() {
    inject(Savings).sendLeft();
  }

  protected skip(event: Event): void {
    event.preventDefault();
    this.main().nativeElement.focus();
  }
}
