import type { ReactNode } from 'react';
import { Row } from '../layout';
import { Field } from './Field';

/** Where what is looked for is typed: `label` says it whole to whoever hears it, `placeholder` in short. */
export function Search({
  width,
  screenOnly,
  ...field
}: {
  /** px */
  width: number;
  screenOnly?: boolean;
  label: string;
  placeholder: string;
  value: string;
  onChange: (words: string) => void;
}): ReactNode {
  return (
    <Row width={width} screenOnly={screenOnly}>
      <Field type="search" {...field} />
    </Row>
  );
}
