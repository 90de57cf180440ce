import type { ReactNode } from 'react';
import { Head, Pane } from './layout';
import { Trouble } from './small';

/** What could not be opened: what it was to be, why it is not there, and what else can be done. */
export function Unopened({ what, error, children }: { what: string; error: unknown; children?: ReactNode }): ReactNode {
  return (
    <>
      <Head>
        <h1>{what}</h1>
      </Head>
      <Pane>
        <Trouble error={error} />
        {children}
      </Pane>
    </>
  );
}
