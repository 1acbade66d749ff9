import type { Treatment } from '@kettle/core/model';

/** Steps that can be added, in the order they are usually wanted. */
export const WAYS = [
  { kind: 'colour', label: 'A colour', hint: 'click it and it goes', icon: 'colour-picker' },
  { kind: 'strokes', label: 'Strokes', hint: 'rub what stays and what goes', icon: 'brush' },
  { kind: 'dissolve', label: 'Dissolve a colour', hint: 'glow on black, ink on white', icon: 'sun' },
  { kind: 'edge', label: 'Edge', hint: 'shrink, smooth, clean', icon: 'group' },
  { kind: 'touch', label: 'By hand', hint: 'brush back and away', icon: 'eraser' },
  { kind: 'crop', label: 'Crop', hint: 'to a box or to the ink', icon: 'crop' },
  { kind: 'tone', label: 'Tone', hint: 'brighten, invert, one ink', icon: 'moon' },
] as const;

/** The colour that stands for a step, where it is about one. */
export const swatchOf = (step: Treatment): string | null =>
  step.kind === 'colour' || step.kind === 'dissolve' ? step.hex : null;

export const iconOf = (step: Treatment): string => WAYS.find((one) => one.kind === step.kind)!.icon;

export function titleOf(step: Treatment): string {
  switch (step.kind) {
    case 'colour':
      return 'Colour taken out';
    case 'dissolve':
      return 'Colour dissolved';
    case 'strokes':
      return 'Strokes';
    case 'touch':
      return 'By hand';
    case 'edge':
      return 'Edge';
    case 'crop':
      return 'Crop';
    case 'tone':
      return 'Tone';
  }
}

/** What a step does, in a few words. */
export function wordsOf(step: Treatment): string {
  switch (step.kind) {
    case 'colour':
      return `${step.hex}, ${step.from === 'everywhere' ? 'everywhere' : step.from === 'border' ? 'from the border' : 'from the click'}`;
    case 'dissolve':
      return step.hex;
    case 'strokes': {
      const kept = step.strokes.filter((one) => one.keep).length;
      return step.strokes.length ? `${kept} keep, ${step.strokes.length - kept} drop` : 'none yet';
    }
    case 'touch':
      return step.strokes.length === 1 ? '1 stroke' : `${step.strokes.length} strokes`;
    case 'edge':
      return (
        [
          step.shift ? `${step.shift < 0 ? 'shrunk' : 'grown'} ${Math.abs(step.shift)} px` : '',
          step.smooth ? 'smoothed' : '',
          step.soften ? 'softened' : '',
          step.decontaminate ? 'old colour out' : '',
          step.specks ? 'specks cleared' : '',
          step.pinholes ? 'holes filled' : '',
        ]
          .filter(Boolean)
          .join(', ') || 'as it is'
      );
    case 'crop':
      return `${Math.round(step.box.width * 100)} × ${Math.round(step.box.height * 100)} %`;
    case 'tone':
      return (
        [
          step.turnedOver ? 'inverted' : '',
          step.lightness ? 'lightness' : '',
          step.contrast ? 'contrast' : '',
          step.saturation ? 'saturation' : '',
          step.hue ? 'hue' : '',
          step.warmth ? 'warmth' : '',
          step.ink ? `one ink ${step.ink}` : '',
          step.threshold !== null ? 'black and white' : '',
        ]
          .filter(Boolean)
          .join(', ') || 'as it is'
      );
  }
}
