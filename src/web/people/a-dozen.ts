/** So many can be looked at one by one; with more, the last look shows three of them. */
export const A_DOZEN = 12;
