import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  effect,
  inject,
  input,
  signal,
} from '@angular/core';
import type { EChartsCoreOption, EChartsType } from 'echarts/core';

/** A chart of Apache ECharts, loaded when the first one is looked at. It says what it shows to those who do not see it. */
@Component({
  selector: 'ks-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
  styles: `
    :host {
      display: block;
      min-height: 220px;
    }
  `,
  host: { role: 'img', '[attr.aria-label]': 'label()' },
})
export class Chart {
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly options = input.required<EChartsCoreOption>();
  /** What it shows, in words and numbers. */
  readonly label = input.required<string>();
  private readonly chart = signal<EChartsType | null>(null);

  constructor() {
    let gone = false;
    const observer = new ResizeObserver(() => this.chart()?.resize());
    inject(DestroyRef).onDestroy(() => {
      gone = true;
      observer.disconnect();
      this.chart()?.dispose();
    });
    void import('#libraries/echarts').then(({ init }) => {
      if (gone) return;
      this.chart.set(init(this.element));
      observer.observe(this.element);
    });
    effect(() => {
      const still = matchMedia('(prefers-reduced-motion: reduce)').matches;
      const ink = getComputedStyle(this.element);
      const [text, rule] = [ink.getPropertyValue('--quiet').trim(), ink.getPropertyValue('--rule').trim()];
      this.chart()?.setOption(
        {
          animation: !still,
          animationDuration: 250,
          textStyle: { fontFamily: ink.fontFamily, color: text },
          ...colouredAxes(this.options(), text, rule),
        },
        { notMerge: true },
      );
    });
  }
}

type Axis = Readonly<Record<string, unknown>>;

/** Axes in the page's own colours, so that they are read in both themes. */
function colouredAxes(options: EChartsCoreOption, text: string, rule: string): EChartsCoreOption {
  const coloured = (axis: unknown): unknown =>
    axis && {
      ...(axis as Axis),
      axisLabel: { color: text, ...((axis as Axis)['axisLabel'] as object | undefined) },
      nameTextStyle: { color: text },
      axisLine: { lineStyle: { color: rule } },
      splitLine: { lineStyle: { color: rule } },
    };
  return { ...options, xAxis: coloured(options['xAxis']), yAxis: coloured(options['yAxis']) };
}
