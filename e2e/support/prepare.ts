import { prepareDemo } from '../../harness/demo';

/** Before any file runs: two that began at once would both make the demo's data in one folder. */
export default async function prepare(): Promise<void> {
  await prepareDemo();
}
