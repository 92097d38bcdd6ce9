import arrowCounterclockwise from 'bootstrap-icons/icons/arrow-counterclockwise.svg';
import book from 'bootstrap-icons/icons/book.svg';
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

const ICONS = {
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
