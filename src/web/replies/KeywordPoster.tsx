import { styled } from '@mui/material/styles';
import { useParams } from 'react-router';
import { keywords as api } from '../../core/api/desk/keywords';
import { besidePoster, posterLine } from '../../core/outcome/poster';
import { useGet } from '../api/client';
import { Pane, Words } from '../pieces/layout';
import { Paper } from '../pieces/chart/Paper';
import { Nothing, useTitle, Waiting } from '../pieces/small';
import { Unopened } from '../pieces/Unopened';

/** Read across a landing. */
const Call = styled('h1')({
  fontSize: 'clamp(34px, 8vw, 84px)',
  lineHeight: 1.08,
  margin: '18px 0 40px',
  overflowWrap: 'anywhere',
});

/** A line to print and put up, with what must be said beside it. */
export default function KeywordPoster() {
  const id = Number(useParams().id);
  const { data, error } = useGet(api.list, {}, { keep: true });
  const keyword = data?.keywords.find((each) => each.id === id);
  useTitle(keyword ? `${keyword.word}, poster` : 'Poster');
  if (!data) return error ? <Unopened what="Poster" error={error} /> : <Waiting what="Opening the poster…" />;
  if (!keyword)
    return (
      <Pane>
        <Nothing title="No such keyword">It is not there any more.</Nothing>
      </Pane>
    );
  return (
    <Paper
      label="The poster"
      back="Keywords"
      backTo="/replies/keywords"
      beside={keyword.ended_at && <Words plum>This keyword has ended: nobody is signed up by it.</Words>}
      wide
    >
      <Words figure="mid">{data.workspace}</Words>
      <Call>{posterLine(keyword)}</Call>
      {besidePoster(keyword, data.workspace).map((line) => (
        <p key={line}>{line}</p>
      ))}
    </Paper>
  );
}
