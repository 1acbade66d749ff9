import type { MatIconRegistry } from '@angular/material/icon';
import type { DomSanitizer } from '@angular/platform-browser';
import alertTriangle from '@tabler/icons/outline/alert-triangle.svg';
import alignBottom from '@tabler/icons/outline/layout-align-bottom.svg';
import alignCentre from '@tabler/icons/outline/layout-align-center.svg';
import alignLeft from '@tabler/icons/outline/layout-align-left.svg';
import alignMiddle from '@tabler/icons/outline/layout-align-middle.svg';
import alignRight from '@tabler/icons/outline/layout-align-right.svg';
import alignTop from '@tabler/icons/outline/layout-align-top.svg';
import arrowBackUp from '@tabler/icons/outline/arrow-back-up.svg';
import arrowForwardUp from '@tabler/icons/outline/arrow-forward-up.svg';
import bookmark from '@tabler/icons/outline/bookmark.svg';
import brush from '@tabler/icons/outline/brush.svg';
import check from '@tabler/icons/outline/check.svg';
import clock from '@tabler/icons/outline/clock.svg';
import colourPicker from '@tabler/icons/outline/color-picker.svg';
import copy from '@tabler/icons/outline/copy.svg';
import crop from '@tabler/icons/outline/crop.svg';
import dotsVertical from '@tabler/icons/outline/dots-vertical.svg';
import download from '@tabler/icons/outline/download.svg';
import eraser from '@tabler/icons/outline/eraser.svg';
import exclamationMark from '@tabler/icons/outline/exclamation-mark.svg';
import eye from '@tabler/icons/outline/eye.svg';
import eyeOff from '@tabler/icons/outline/eye-off.svg';
import fileCheck from '@tabler/icons/outline/file-check.svg';
import fileExport from '@tabler/icons/outline/file-export.svg';
import fileImport from '@tabler/icons/outline/file-import.svg';
import flipHorizontal from '@tabler/icons/outline/flip-horizontal.svg';
import flipVertical from '@tabler/icons/outline/flip-vertical.svg';
import group from '@tabler/icons/outline/stack-2.svg';
import history from '@tabler/icons/outline/history.svg';
import infoCircle from '@tabler/icons/outline/info-circle.svg';
import lock from '@tabler/icons/outline/lock.svg';
import lockOpen from '@tabler/icons/outline/lock-open.svg';
import minus from '@tabler/icons/outline/minus.svg';
import mood from '@tabler/icons/outline/mood-smile.svg';
import moon from '@tabler/icons/outline/moon.svg';
import movie from '@tabler/icons/outline/movie.svg';
import packageIcon from '@tabler/icons/outline/package.svg';
import arrowUp from '@tabler/icons/outline/arrow-up.svg';
import photo from '@tabler/icons/outline/photo.svg';
import photoPlus from '@tabler/icons/outline/photo-plus.svg';
import plus from '@tabler/icons/outline/plus.svg';
import search from '@tabler/icons/outline/search.svg';
import shape from '@tabler/icons/outline/triangle-square-circle.svg';
import spreadAcross from '@tabler/icons/outline/layout-distribute-vertical.svg';
import spreadDown from '@tabler/icons/outline/layout-distribute-horizontal.svg';
import star from '@tabler/icons/outline/star.svg';
import scissors from '@tabler/icons/outline/scissors.svg';
import shirt from '@tabler/icons/outline/shirt.svg';
import sun from '@tabler/icons/outline/sun.svg';
import trash from '@tabler/icons/outline/trash.svg';
import typography from '@tabler/icons/outline/typography.svg';
import upload from '@tabler/icons/outline/upload.svg';
import playerPause from '@tabler/icons/outline/player-pause.svg';
import playerPlay from '@tabler/icons/outline/player-play.svg';
import x from '@tabler/icons/outline/x.svg';

const ICONS = {
  'alert-triangle': alertTriangle,
  'arrow-back-up': arrowBackUp,
  'arrow-forward-up': arrowForwardUp,
  check,
  clock,
  copy,
  crop,
  'dots-vertical': dotsVertical,
  download,
  'exclamation-mark': exclamationMark,
  eye,
  'eye-off': eyeOff,
  'file-check': fileCheck,
  'flip-horizontal': flipHorizontal,
  'flip-vertical': flipVertical,
  history,
  'info-circle': infoCircle,
  moon,
  package: packageIcon,
  'arrow-up': arrowUp,
  movie,
  photo,
  'photo-plus': photoPlus,
  'player-pause': playerPause,
  'player-play': playerPlay,
  plus,
  scissors,
  search,
  shirt,
  sun,
  trash,
  x,
  'align-bottom': alignBottom,
  'align-centre': alignCentre,
  'align-left': alignLeft,
  'align-middle': alignMiddle,
  'align-right': alignRight,
  'align-top': alignTop,
  bookmark,
  brush,
  'colour-picker': colourPicker,
  eraser,
  'file-export': fileExport,
  'file-import': fileImport,
  group,
  lock,
  'lock-open': lockOpen,
  minus,
  mood,
  shape,
  'spread-across': spreadAcross,
  'spread-down': spreadDown,
  star,
  typography,
  upload,
};

/** One open icon set, shipped in the bundle: nothing is fetched. */
export function registerIcons(registry: MatIconRegistry, sanitizer: DomSanitizer): void {
  for (const [name, svg] of Object.entries(ICONS))
    registry.addSvgIconLiteral(name, sanitizer.bypassSecurityTrustHtml(svg));
}
