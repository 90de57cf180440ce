import ts from 'typescript';

/** What a template is that goes to the database. */
const SQL = /\b(?:SELECT|INSERT INTO|UPDATE|DELETE FROM|CREATE|DROP|WHERE|ORDER BY|LIMIT|VALUES)\b/;
/** The database's own clock; ours is passed in, so that the demo's and a test's day can be another. */
const CLOCK =
  /\b(?:now\(\)|(?:clock|statement|transaction)_timestamp\(\)|current_(?:date|time|timestamp)\b|localtime(?:stamp)?\b)/i;
/** Pieces of a statement that are put together, by the names that they have everywhere; a value never has one of them. */
const PIECES = /^(?:where|conditions|from|set|columns?|table|which|direction|key|shown|usual|owed|sql|\w+Sql)$/;
/** Functions that give a piece of a statement, or the place of a parameter. */
const MAKES = /^(?:bind|whoHas|when|\w*Sql)$/;

/** Values reach SQL by parameter only, and so do times: what is put into its text is a constant of the program, or a piece made of them. */
export default {
  meta: {
    type: 'problem',
    schema: [],
    messages: {
      value: 'A value goes into SQL by parameter ($1, or Binder.bind); only constants and pieces of SQL are put into its text.',
      clock: 'No statement reads the clock: times are parameters.',
    },
  },
  create(context) {
    const { sourceCode } = context;
    const services = sourceCode.parserServices;
    const checker = services.program.getTypeChecker();

    const constant = (node) => {
      const type = checker.getTypeAtLocation(services.esTreeNodeToTSNodeMap.get(node));
      const all = type.isUnion() ? type.types : [type];
      return all.every((each) => (each.flags & (ts.TypeFlags.StringLiteral | ts.TypeFlags.NumberLiteral)) !== 0);
    };
    const fine = (node) => {
      switch (node.type) {
        case 'Identifier':
          return /^[A-Z][A-Z0-9_]*$/.test(node.name) || PIECES.test(node.name) || constant(node);
        case 'MemberExpression':
          return (node.object.type === 'Identifier' && /^[A-Z][A-Z0-9_]*$/.test(node.object.name)) || constant(node);
        case 'ConditionalExpression':
          return fine(node.consequent) && fine(node.alternate);
        case 'TemplateLiteral':
          return node.expressions.every(fine);
        case 'CallExpression': {
          const { callee } = node;
          const name = callee.type === 'MemberExpression' ? callee.property.name : callee.name;
          if (MAKES.test(name ?? '')) return true;
          // a list of constants written one after the other
          return callee.type === 'MemberExpression' && /^(?:join|map|replaceAll|filter)$/.test(name) && fine(callee.object);
        }
        default:
          return constant(node);
      }
    };
    return {
      TemplateLiteral(node) {
        const text = node.quasis.map(({ value }) => value.raw).join(' ');
        if (!SQL.test(text)) return;
        if (CLOCK.test(text)) context.report({ node, messageId: 'clock' });
        for (const each of node.expressions) if (!fine(each)) context.report({ node: each, messageId: 'value' });
      },
    };
  },
};
