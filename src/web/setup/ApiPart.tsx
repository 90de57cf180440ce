import { Accordion, AccordionDetails, AccordionSummary } from '@mui/material';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { description, type DescribedCall } from '../../core/api/description';
import { fold } from '../../core/text/fold';
import { useGet } from '../api/client';
import { Search } from '../pieces/form/Search';
import { Bit, Row, Words } from '../pieces/layout';
import { Nothing, Trouble, Waiting } from '../pieces/small';
import { Way } from '../pieces/ways';

const Schema = styled('pre')(({ theme }) => ({
  margin: '4px 0 10px',
  padding: '8px 12px',
  fontSize: 13,
  overflow: 'auto',
  maxHeight: 320,
  border: `1px solid ${theme.bell.hairline}`,
  background: theme.bell.card,
}));
const Path = styled('span')({ width: 330, minWidth: 0, overflowWrap: 'anywhere' });
const Method = styled('span')({ fontWeight: 650, width: 58, flex: 'none' });

/** Everything that can be asked of the server, as its OpenAPI description tells it. */
export default function ApiPart() {
  const answer = useGet(description.get, {});
  const [typed, setTyped] = useState('');
  const wanted = fold(typed.trim());
  const calls = Object.entries(answer.data?.paths ?? {})
    .flatMap(([path, methods]) => Object.entries(methods).map(([method, call]) => ({ path, method, call })))
    .filter(({ path, call }) => wanted === '' || fold(`${path} ${call.summary}`).includes(wanted));
  return (
    <>
      <Row between base below={6}>
        <h2>What can be asked of the server</h2>
        <Search width={230} label="Find by address or words" placeholder="Address or words" value={typed} onChange={setTyped} />
      </Row>
      <Words soft small below={8}>
        OpenAPI 3.1, made from the same contract that answers; <Way href="/api/openapi.json">the whole of it</Way>
      </Words>
      <section aria-label="Calls">
        <Trouble error={answer.error} />
        {!answer.data && !answer.error && <Waiting what="Opening…" />}
        {answer.data && calls.length === 0 && <Nothing title="No such call">Nothing of the contract has these words.</Nothing>}
        {calls.map(({ path, method, call }) => (
          <Accordion key={`${method} ${path}`} slotProps={{ transition: { unmountOnExit: true }, heading: { component: 'h3' } }}>
            <AccordionSummary>
              <Row nowrap base gap={10} grow>
                <Method>{method}</Method>
                <Path>{path}</Path>
                <Bit soft cut wideOnly>
                  {call.summary}
                </Bit>
              </Row>
            </AccordionSummary>
            <AccordionDetails>
              <Call call={call} />
            </AccordionDetails>
          </Accordion>
        ))}
      </section>
    </>
  );
}

function Call({ call }: { call: DescribedCall }) {
  const body = call.requestBody?.content['application/json']?.schema;
  const answer = Object.entries(call.responses).find(([code]) => code !== 'default');
  const schema = answer?.[1].content?.['application/json']?.schema;
  const told = (words: string, what: unknown) => (
    <>
      <Words soft small>
        {words}
      </Words>
      <Schema tabIndex={0}>{JSON.stringify(what, null, 2)}</Schema>
    </>
  );
  return (
    <>
      <Words small below={6}>
        {call.summary}. {call.description}
      </Words>
      {(call.parameters ?? []).length > 0 && told('Parameters', call.parameters)}
      {body !== undefined && told('Body', body)}
      {schema !== undefined ? (
        told('Answer', schema)
      ) : (
        <Words soft small>
          {answer?.[1].description}
        </Words>
      )}
    </>
  );
}
