/** Every color of the product, light and night; contrast is measured in tokens.test.ts. */
export interface Tokens {
  frame: string;
  onFrame: string;
  frameSoft: string;
  frameLine: string;
  frameBrick: string;
  ground: string;
  card: string;
  ink: string;
  soft: string;
  hairline: string;
  edge: string;
  lake: string;
  onLake: string;
  lakeWash: string;
  yellow: string;
  onYellow: string;
  yellowEdge: string;
  brick: string;
  brickWash: string;
  plum: string;
}

export const LIGHT: Tokens = {
  frame: '#12252E',
  onFrame: '#EAF0EE',
  frameSoft: '#A9B9BE',
  frameLine: '#31454F',
  frameBrick: '#F48E73',
  ground: '#EEF2EF',
  card: '#FBFDFB',
  ink: '#14262E',
  soft: '#4E6067',
  hairline: '#CAD3CF',
  edge: '#75868A',
  lake: '#0B5A75',
  onLake: '#FBFDFB',
  lakeWash: '#D9E6EC',
  yellow: '#FFC42E',
  onYellow: '#14262E',
  yellowEdge: '#14262E',
  brick: '#AE331B',
  brickWash: '#F6DED8',
  plum: '#64407F',
};

export const NIGHT: Tokens = {
  frame: '#081014',
  onFrame: '#EAF0EE',
  frameSoft: '#A3B5BA',
  frameLine: '#26353C',
  frameBrick: '#F48E73',
  ground: '#0F191E',
  card: '#162329',
  ink: '#E8EFEC',
  soft: '#A3B5BA',
  hairline: '#2B3B42',
  edge: '#6B7E85',
  lake: '#7CC6E0',
  onLake: '#0F191E',
  lakeWash: '#1B3A47',
  yellow: '#FFC42E',
  onYellow: '#14262E',
  yellowEdge: '#FFC42E',
  brick: '#F48E73',
  brickWash: '#48241C',
  plum: '#CBA8E2',
};
