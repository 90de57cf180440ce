import { Box } from '@mui/material';
import { styled } from '@mui/material/styles';
import { Link } from 'react-router';
import { THUMB } from '../theme/touch';

/** The whole page: the dark bars that carry time, and the work beneath. */
export const Page = styled(Box)(({ theme }) => ({
  height: '100%',
  display: 'flex',
  flexDirection: 'column',
  [theme.breakpoints.down('md')]: { height: 'auto', minHeight: '100%' },
  '@media print': { height: 'auto' },
}));

export const Top = styled('header')(({ theme }) => ({
  background: theme.bell.frame,
  color: theme.bell.onFrame,
  display: 'flex',
  alignItems: 'stretch',
  height: 50,
  padding: '0 20px',
  gap: 24,
  flex: 'none',
  '& :focus-visible': { outlineColor: theme.bell.yellow },
  [theme.breakpoints.down('md')]: { flexWrap: 'wrap', height: 'auto', padding: '2px 12px 0', gap: '0 14px' },
  '@media print': { display: 'none' },
}));

export const Brand = styled(Link)(({ theme }) => ({
  display: 'flex',
  alignItems: 'center',
  gap: 10,
  fontFamily: theme.head,
  fontWeight: 700,
  fontStretch: '88%',
  fontSize: 19,
  color: theme.bell.onFrame,
  textDecoration: 'none',
  [theme.breakpoints.down('md')]: { minWidth: THUMB, minHeight: THUMB, '& span': { display: 'none' } },
}));

export const Areas = styled('nav')(({ theme }) => ({
  display: 'flex',
  gap: 22,
  alignItems: 'stretch',
  '& a': {
    color: theme.bell.frameSoft,
    textDecoration: 'none',
    display: 'flex',
    alignItems: 'center',
    gap: 6,
    borderBottom: '4px solid transparent',
    paddingTop: 4,
    fontSize: 15.5,
  },
  '& a:hover': { color: theme.bell.onFrame },
  '& a.on': { color: theme.bell.onFrame, fontWeight: 650, borderBottomColor: theme.bell.yellow },
  [theme.breakpoints.down('md')]: {
    order: 3,
    width: '100%',
    gap: 14,
    overflowX: 'auto',
    '& a': { padding: '4px 0 2px', minHeight: THUMB, minWidth: THUMB, justifyContent: 'center', borderBottomWidth: 3 },
  },
  // all six stay in sight on a telephone (360 px and up)
  [theme.breakpoints.down('sm')]: {
    gap: 0,
    justifyContent: 'space-between',
    '& a': {
      padding: '4px 0 2px',
      minHeight: THUMB,
      minWidth: THUMB,
      justifyContent: 'center',
      borderBottomWidth: 3,
      fontSize: 14,
      letterSpacing: '-0.01em',
      gap: 3,
    },
  },
}));

export const Waits = styled('span')({
  border: '1px solid currentColor',
  borderRadius: 20,
  minWidth: 20,
  textAlign: 'center',
  fontSize: 12.5,
  lineHeight: '18px',
  padding: '0 5px',
  fontWeight: 650,
});

export const TopEnd = styled('div')(({ theme }) => ({
  marginLeft: 'auto',
  display: 'flex',
  alignItems: 'center',
  gap: 14,
  whiteSpace: 'nowrap',
  '& > a': { color: 'inherit', textDecoration: 'none' },
  [theme.breakpoints.down('md')]: {
    gap: 8,
    '& > a': { display: 'inline-flex', alignItems: 'center', minHeight: THUMB, minWidth: THUMB },
  },
}));

/** A word of warning in the frame. */
export const Notice = styled('span')(({ theme }) => ({
  border: `1px solid ${theme.bell.yellow}`,
  color: theme.bell.yellow,
  borderRadius: 4,
  fontSize: 13.5,
  padding: '0 8px',
  lineHeight: '21px',
  textDecoration: 'none',
  'a &:hover': { textDecoration: 'underline' },
}));

export const Main = styled('main')(({ theme }) => ({
  flex: 1,
  minHeight: 0,
  display: 'flex',
  flexDirection: 'column',
  [theme.breakpoints.down('md')]: { display: 'block' },
}));
