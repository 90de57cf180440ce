import type { ElementHandle, Page } from 'puppeteer-core';

/** What has this accessible role and name on a page, once it is there and can be used; an error tells what the page says. */
export async function find(page: Page, role: string, name: string | RegExp): Promise<ElementHandle> {
  const deadline = Date.now() + 60_000;
  for (;;) {
    const handle = await page.evaluateHandle(
      (wantedRole, wantedName, isPattern) => {
        const fits = (text: string) => (isPattern ? new RegExp(wantedName).test(text) : text === wantedName);
        const roles: Record<string, string> = {
          button: 'button, [role=button]',
          link: 'a[href]',
          textbox: 'input:not([type=radio]):not([type=checkbox]):not([type=file]), textarea, [role=textbox]',
          radio: 'input[type=radio]',
          menuitem: '[role=menuitem]',
          combobox: '[role=combobox]',
          option: '[role=option]',
          checkbox: 'input[type=checkbox]',
          file: 'input[type=file]',
        };
        const nameOf = (element: Element): string => {
          const labelled = element.getAttribute('aria-labelledby');
          const label =
            element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement || element instanceof HTMLSelectElement
              ? [...(element.labels ?? [])].map((each) => each.textContent).join(' ')
              : '';
          return (
            (
              element.getAttribute('aria-label') ?? (labelled ? (document.getElementById(labelled)?.textContent ?? '') : '')
            ).trim() ||
            label.trim() ||
            (element.textContent ?? '').replace(/\s+/g, ' ').trim()
          );
        };
        return [...document.querySelectorAll(roles[wantedRole] ?? `[role=${wantedRole}]`)].find(
          (element) =>
            fits(nameOf(element)) &&
            (wantedRole === 'file' || (element.getClientRects().length > 0 && !(element as HTMLButtonElement).disabled)),
        );
      },
      role,
      typeof name === 'string' ? name : name.source,
      typeof name !== 'string',
    );
    const element = handle.asElement() as ElementHandle | null;
    if (element) return element;
    if (Date.now() > deadline)
      throw new Error(
        `No ${role} “${String(name)}” on ${page.url()}: ${(await page.evaluate(() => document.body.innerText)).slice(0, 1500)}`,
      );
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** Waits until something stands still: what is pressed while the page still moves is something else. */
export async function settled(element: ElementHandle): Promise<void> {
  await element.evaluate(async (each) => {
    const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
    each.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    for (let same = 0, last = ''; same < 3;) {
      await frame();
      const { x, y, width, height } = each.getBoundingClientRect();
      const now = `${x} ${y} ${width} ${height}`;
      same = now === last ? same + 1 : 0;
      last = now;
    }
  });
}

/** Whether a press in its middle is one of it. */
export function onTop(element: ElementHandle): Promise<boolean> {
  return element.evaluate((each) => {
    const { x, y, width, height } = each.getBoundingClientRect();
    const there = document.elementFromPoint(x + width / 2, y + height / 2);
    return (
      there !== null &&
      (each.contains(there) ||
        there.contains(each) ||
        [...((each as HTMLInputElement).labels ?? [])].some((label) => label.contains(there)))
    );
  });
}
