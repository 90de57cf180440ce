import { afterAll, beforeAll } from 'vitest';
import { closeBrowser } from '../../harness/browser';
import { forget, freshDemo, type Demo } from '../../harness/demo';

/** A demo for the tests of one file: begun before the first, and ended with its browser after the last. */
export function ownDemo(): Pick<Demo, 'url'> {
  let demo: Demo;
  beforeAll(async () => {
    demo = await freshDemo();
  });
  afterAll(async () => {
    await closeBrowser();
    await demo.stop();
    forget(demo);
  });
  return {
    get url() {
      return demo.url;
    },
  };
}
