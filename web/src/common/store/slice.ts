export type SetOwn<Values> = (part: Partial<Values> | ((now: Values) => Partial<Values>)) => void;

/**
 * A part of the screen's state: its values and its actions. `perStudy` gives what is so whenever a
 * study is opened, whatever was done in another one; the rest stays.
 */
export interface Slice<Values extends object, PerStudy extends keyof Values> {
  create: (set: SetOwn<Values>) => Values;
  perStudy: () => Pick<Values, PerStudy>;
}
