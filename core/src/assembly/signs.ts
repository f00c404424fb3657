/** Signs that no screen shows and no file format keeps: control signs but tab and line ends, halves of pairs, no signs. */
const UNFIT =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;
const ALL_UNFIT = new RegExp(UNFIT, 'g');

const HALVES = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
/** The text with each half of a pair as `\ufffd`; nothing else is changed. */
export const wellFormedText = (text: string): string => text.replace(HALVES, '\ufffd');

export const hasUnfitSigns = (text: string): boolean => UNFIT.test(text);
/** The text with each sign that cannot be shown as `\ufffd`. */
export const withFitSigns = (text: string): string => (UNFIT.test(text) ? text.replace(ALL_UNFIT, '\ufffd') : text);
