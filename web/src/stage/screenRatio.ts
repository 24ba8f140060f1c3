/** Rows of the stage that sizes in pixels are meant for; a larger picture has larger ones. */
export const STAGE_ROWS = 800;

/** Pixels of what is drawn for each pixel that a look speaks of; set by whoever draws. */
export const screenRatio = { value: 1 };
