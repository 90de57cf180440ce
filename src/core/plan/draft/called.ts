import { nameFrom } from '../../merge/name-from';

/** What a broadcast is called: by its name, else by its first words. '' where there are neither. */
export const calledOf = (of: { name: string; words: string }): string => of.name.trim() || nameFrom(of.words);
