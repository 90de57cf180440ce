import type { TSchema } from 'typebox';

/**
 * A schema with every object in it closed: no key that is not named, at any depth, whether it was declared so or not. Of records by
 * pattern, a key that does not fit the pattern is one that is not named. What is declared as open by intent says `additionalProperties`.
 */
export function closed<S extends TSchema>(schema: S): S {
  return walk(schema) as S;
}

function walk(schema: unknown): unknown {
  if (Array.isArray(schema)) return schema.map(walk);
  if (schema === null || typeof schema !== 'object') return schema;
  const copy: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(schema)) copy[key] = key === 'const' || key === 'enum' ? value : walk(value);
  if (copy.type === 'object') copy.additionalProperties ??= false;
  return copy;
}
