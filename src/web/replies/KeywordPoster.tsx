import { Button } from '@mui/material';
import { styled, ThemeProvider } from '@mui/material/styles';
import { useParams } from 'react-router';
import { keywords as api } from '../../core/api/keywords';
import { besidePoster, posterLine } from '../../core/outcome/poster';
import { useGet } from '../api/client';
import { End, Head, Pane, Words } from '../pieces/layout';
import { Nothing, Trouble, useTitle, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';
import { themeOf } from '../theme/theme';

/** Paper is light, also at night. */
const PAPER = themeOf('light');
const Sheet = styled('article')(({ theme }) => ({
  maxWidth: 860,
  margin: '18px auto',
  padding: '72px 48px',
  background: theme.bell.card,
  border: `1px solid ${theme.bell.hairline}`,
  color: theme.bell.ink,
  textAlign: 'center',
  '@media print': { margin: 0, border: 0, maxWidth: 'none', background: 'none' },
  [theme.breakpoints.down('md')]: { margin: 0, padding: '32px 16px', border: 0 },
}));
/** Read across a landing. */
const Call = styled('h1')(({ theme }) => ({
  fontFamily: theme.typography.h1.fontFamily,
  fontVariationSettings: theme.typography.h1.fontVariationSettings,
  fontWeight: 640,
  fontSize: 'clamp(34px, 8vw, 84px)',
  lineHeight: 1.08,
  margin: '18px 0 40px',
  overflowWrap: 'anywhere',
}));

/** A line to print and put up, with what must be said beside it. */
export default function KeywordPoster() {
  const id = Number(useParams().id);
  const { data, error } = useGet(api.list, {}, { keep: true });
  const keyword = data?.keywords.find((each) => each.id === id);
  useTitle(keyword ? `${keyword.word}, poster` : 'Poster');
  if (!data)
    return error ? (
      <Pane>
        <Trouble error={error} />
      </Pane>
    ) : (
      <Waiting what="Opening the poster…" />
    );
  if (!keyword)
    return (
      <Pane>
        <Nothing title="No such keyword">It is not there any more.</Nothing>
      </Pane>
    );
  return (
    <>
      <Words screenOnly>
        <Head>
          <Way to="/replies/keywords">Keywords</Way>
          {keyword.ended_at && <Words plum>This keyword has ended: nobody is signed up by it.</Words>}
          <End>
            <Button variant="contained" onClick={() => window.print()}>
              Print it
            </Button>
          </End>
        </Head>
      </Words>
      <Pane grow pad={0} tabIndex={0} role="region" aria-label="The poster">
        <ThemeProvider theme={PAPER}>
          <Sheet>
            <Words figure="mid">{data.workspace}</Words>
            <Call>{posterLine(keyword)}</Call>
            {besidePoster(keyword, data.workspace).map((line) => (
              <p key={line}>{line}</p>
            ))}
          </Sheet>
        </ThemeProvider>
      </Pane>
    </>
  );
}
