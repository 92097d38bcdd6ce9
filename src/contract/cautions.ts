/* Shown at the step where the work can hurt someone. The product's own label and local rules come first. */

export const ACID_CAUTION =
  'Eye protection and gloves. Drops into the bucket, never water into the acid. Never near alkali or silicate concentrate. Follow the label; store it locked away.';
export const ALKALI_CAUTION =
  'Eye protection and gloves. Drops into the bucket. Never mix it with acid concentrate. Follow the label; store it locked away.';
