import { closeBrowser, signIn, visit, type Visitor } from '../../harness/browser';
import { Desk } from '../../harness/desk';
import { forget, freshDemo, type Demo } from '../../harness/demo';

/** A fresh Ottermere whose carrier delivers everything soon, with Ana signed in at her screen and at the API. */
export async function sitDown(): Promise<{ demo: Demo; desk: Desk; ana: Visitor }> {
  const demo = await freshDemo({ CARRIER_PROFILE: '{"outcomes":"delivered","latency":[5,60]}' });
  const desk = await new Desk(demo.url).signIn();
  const ana = await visit();
  await signIn(ana, demo.url);
  return { demo, desk, ana };
}

/** Leaves; errors in a browser's console fail here. */
export async function getUp(demo: Demo, ...visitors: Visitor[]): Promise<void> {
  for (const visitor of visitors) await visitor.close();
  await closeBrowser();
  await demo.stop();
  forget(demo);
}
