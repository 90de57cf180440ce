/** Nothing of a broken line is still on its way after so long, ms. */
export const SETTLED = 3000;
