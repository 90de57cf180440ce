import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import { Bit, Row } from '../pieces/layout';

const Track = styled(Box)(({ theme }) => ({
  position: 'relative',
  width: 64,
  height: 9,
  flex: 'none',
  borderBottom: `1px solid ${theme.bell.hairline}`,
}));
const Fill = styled('span')(({ theme }) => ({ position: 'absolute', left: 0, bottom: 0, height: 7, background: theme.bell.ink }));
const Usual = styled('span')(({ theme }) => ({
  position: 'absolute',
  bottom: -3,
  width: 2,
  height: 13,
  background: theme.bell.lake,
}));

/** A share in percent; beneath ten with one place, since a tenth of a point is much there. */
export const percent = (share: number): string => {
  const n = share * 100;
  return `${n === 0 || n >= 9.95 ? Math.round(n) : Math.round(n * 10) / 10} %`;
};

/** A share as its figure and a line of it, with a tick at what is usual; nothing where there is nothing to count. */
export function ShareFigure({ k, n, usual, most }: { k: number; n: number; usual: number | null; most: number }) {
  if (n <= 0) return <Bit soft>–</Bit>;
  // of one it is said, not measured
  if (n === 1)
    return (
      <Bit fig width={52} num>
        {k} of 1
      </Bit>
    );
  const share = k / n;
  const at = (value: number) => `${Math.min(100, (100 * value) / Math.max(most, 0.0001))}%`;
  return (
    <Row nowrap gap={8} base>
      <Bit fig width={52} num title={`${k.toLocaleString('en-US')} of ${n.toLocaleString('en-US')}`}>
        {percent(share)}
      </Bit>
      <Track aria-hidden>
        <Fill style={{ width: at(share) }} />
        {usual !== null && <Usual style={{ left: at(usual) }} />}
      </Track>
    </Row>
  );
}
