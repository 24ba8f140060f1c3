/** How many of the area lights have a shadow: they are the first, and so are the spots that find it.
 * One for all materials, as the lights are. */
export const areaShadows = { value: 0 };
