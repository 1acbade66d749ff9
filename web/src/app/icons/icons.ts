import type { MatIconRegistry } from '@angular/material/icon';
import type { DomSanitizer } from '@angular/platform-browser';
import alertTriangle from '@tabler/icons/outline/alert-triangle.svg';
import arrowBackUp from '@tabler/icons/outline/arrow-back-up.svg';
import arrowForwardUp from '@tabler/icons/outline/arrow-forward-up.svg';
import check from '@tabler/icons/outline/check.svg';
import clock from '@tabler/icons/outline/clock.svg';
import copy from '@tabler/icons/outline/copy.svg';
import download from '@tabler/icons/outline/download.svg';
import exclamationMark from '@tabler/icons/outline/exclamation-mark.svg';
import eye from '@tabler/icons/outline/eye.svg';
import eyeOff from '@tabler/icons/outline/eye-off.svg';
import fileCheck from '@tabler/icons/outline/file-check.svg';
import flipHorizontal from '@tabler/icons/outline/flip-horizontal.svg';
import flipVertical from '@tabler/icons/outline/flip-vertical.svg';
import history from '@tabler/icons/outline/history.svg';
import infoCircle from '@tabler/icons/outline/info-circle.svg';
import moon from '@tabler/icons/outline/moon.svg';
import photoPlus from '@tabler/icons/outline/photo-plus.svg';
import plus from '@tabler/icons/outline/plus.svg';
import search from '@tabler/icons/outline/search.svg';
import sun from '@tabler/icons/outline/sun.svg';
import trash from '@tabler/icons/outline/trash.svg';
import x from '@tabler/icons/outline/x.svg';

const ICONS = {
  'alert-triangle': alertTriangle, 'arrow-back-up': arrowBackUp, 'arrow-forward-up': arrowForwardUp, check, clock, copy, download, 'exclamation-mark': exclamationMark, eye, 'eye-off': eyeOff,
  'file-check': fileCheck, 'flip-horizontal': flipHorizontal, 'flip-vertical': flipVertical, history, 'info-circle': infoCircle, moon, 'photo-plus': photoPlus, plus, search, sun, trash, x,
};

/** One open icon set, shipped in the bundle: nothing is fetched. */
export function registerIcons(registry: MatIconRegistry, sanitizer: DomSanitizer): void {
  for (const [name, svg] of Object.entries(ICONS)) registry.addSvgIconLiteral(name, sanitizer.bypassSecurityTrustHtml(svg));
}
