/** Rows of the recipe that are no steps, where an id of a step is asked for. */
export const PLACE_ROW = "place-of-piece";
export const LOOK_ROW = "look-of-piece";
