import arrowCounterclockwise from 'bootstrap-icons/icons/arrow-counterclockwise.svg';
import book from 'bootstrap-icons/icons/book.svg';
import camera from 'bootstrap-icons/icons/camera.svg';
import check2 from 'bootstrap-icons/icons/check2.svg';
import check2Square from 'bootstrap-icons/icons/check2-square.svg';
import dropletHalf from 'bootstrap-icons/icons/droplet-half.svg';
import exclamationTriangle from 'bootstrap-icons/icons/exclamation-triangle.svg';
import eyedropper from 'bootstrap-icons/icons/eyedropper.svg';
import flower from 'bootstrap-icons/icons/flower1.svg';
import hourglass from 'bootstrap-icons/icons/hourglass-split.svg';
import infoCircle from 'bootstrap-icons/icons/info-circle.svg';
import listCheck from 'bootstrap-icons/icons/list-check.svg';
import skipForward from 'bootstrap-icons/icons/skip-forward.svg';
import archive from 'bootstrap-icons/icons/archive.svg';
import arrowsMove from 'bootstrap-icons/icons/arrows-move.svg';
import calendarCheck from 'bootstrap-icons/icons/calendar-check.svg';
import qrCode from 'bootstrap-icons/icons/qr-code.svg';
import clipboard from 'bootstrap-icons/icons/clipboard.svg';
import grid from 'bootstrap-icons/icons/grid-3x3-gap.svg';
import phone from 'bootstrap-icons/icons/phone.svg';
import plus from 'bootstrap-icons/icons/plus-lg.svg';
import printer from 'bootstrap-icons/icons/printer.svg';
import search from 'bootstrap-icons/icons/search.svg';
import sliders from 'bootstrap-icons/icons/sliders.svg';
import stopwatch from 'bootstrap-icons/icons/stopwatch.svg';
import table from 'bootstrap-icons/icons/table.svg';
import bookshelf from 'bootstrap-icons/icons/bookshelf.svg';
import graphUp from 'bootstrap-icons/icons/graph-up.svg';
import hdd from 'bootstrap-icons/icons/hdd.svg';
import pencil from 'bootstrap-icons/icons/pencil.svg';
import bell from 'bootstrap-icons/icons/bell.svg';
import bellSlash from 'bootstrap-icons/icons/bell-slash.svg';
import arrowUp from 'bootstrap-icons/icons/arrow-up.svg';
import x from 'bootstrap-icons/icons/x-lg.svg';
import pebbles from './pebbles.svg';
import threeDots from 'bootstrap-icons/icons/three-dots.svg';

const ICONS = {
  arrowUp,
  archive,
  graphUp,
  camera,
  arrowsMove,
  calendarCheck,
  qrCode,
  clipboard,
  grid,
  phone,
  plus,
  printer,
  search,
  sliders,
  stopwatch,
  table,
  bookshelf,
  hdd,
  pencil,
  bell,
  bellSlash,
  x,
  threeDots,
  pebbles,
  arrowCounterclockwise,
  book,
  check2,
  check2Square,
  dropletHalf,
  exclamationTriangle,
  eyedropper,
  flower,
  hourglass,
  infoCircle,
  listCheck,
  skipForward,
} as const;
export type IconName = keyof typeof ICONS;

/** An icon of the icon package in the colour of the text around it; always beside a word, so it says nothing itself. */
export function Icon({ name }: { name: IconName }) {
  return <i className="icon" aria-hidden style={{ maskImage: `url("${ICONS[name]}")` }} />;
}
