/** What other areas may use of this one; the rest of it is its own (lint). */
export { ShareFigure, percent } from './ShareFigure';
