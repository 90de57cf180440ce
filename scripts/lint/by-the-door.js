import { dirname, join, relative } from 'node:path';

/**
 * Walls between the areas of a floor: an area uses only areas before it in the floor's order, so that there is no circle, and of those only
 * what their `for-others` gives. Rooms of the ground are open to all. What joins all areas stands beside them (routes, main, App).
 */
export default {
  meta: {
    type: 'problem',
    schema: [
      {
        type: 'object',
        properties: {
          floor: { type: 'string' },
          ground: { type: 'array', items: { type: 'string' } },
          areas: { type: 'array', items: { type: 'string' } },
        },
        required: ['floor', 'ground', 'areas'],
        additionalProperties: false,
      },
    ],
    messages: {
      door: '`{{area}}` is used by its `for-others` only; what others need of it is named there.',
      order: '`{{from}}` may not know `{{area}}`, which stands above it (the order is in eslint.config.js).',
      unknown: '`{{area}}` has no place in the order of areas (eslint.config.js).',
    },
  },
  create(context) {
    const [{ floor, ground, areas }] = context.options;
    const order = [...ground, ...areas];
    const areaOf = (path) => {
      const parts = relative(floor, path).split('/');
      return parts.length > 1 && parts[0] !== '..' ? parts[0] : undefined;
    };
    const file = relative(context.cwd, context.filename);
    const from = areaOf(file);
    const look = (node) => {
      if (from === undefined || !node.source?.value.startsWith('.')) return;
      const target = join(dirname(file), node.source.value);
      const area = areaOf(target);
      if (area === undefined || area === from) return;
      const say = (messageId) => context.report({ node: node.source, messageId, data: { from, area } });
      if (!order.includes(area)) say('unknown');
      else if (order.indexOf(area) > order.indexOf(from)) say('order');
      else if (!ground.includes(area) && target !== join(floor, area, 'for-others')) say('door');
    };
    return { ImportDeclaration: look, ExportNamedDeclaration: look, ExportAllDeclaration: look };
  },
};
