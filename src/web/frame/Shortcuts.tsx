import { lazy, Suspense, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import { AREAS } from './areas';
import { useSingleKey } from './single-keys';

const Palette = lazy(() => import('./Palette'));
const KeySheet = lazy(() => import('./KeySheet'));

/** The command palette, the sheet of keys, and the keys themselves. */
export function Shortcuts({
  palette,
  setPalette,
  help,
  setHelp,
}: {
  palette: boolean;
  setPalette: (open: boolean) => void;
  help: boolean;
  setHelp: (open: boolean) => void;
}): ReactNode {
  const navigate = useNavigate();
  useHotkeys('mod+k', () => setPalette(true), { preventDefault: true, enableOnFormTags: true, enableOnContentEditable: true });
  useSingleKey('shift+slash, ?', () => setHelp(true), { useKey: true });
  useSingleKey(
    AREAS.map(({ key }) => key),
    (event) => {
      const area = AREAS.find(({ key }) => key === event.key.toLowerCase());
      if (area) void navigate(area.path);
    },
  );
  useSingleKey('n', () => void navigate('/broadcasts?new=1'));
  useSingleKey('f', () => document.querySelector<HTMLElement>('main input[type=search], main [data-find] input')?.focus(), {
    preventDefault: true,
  });
  return (
    <>
      {palette && (
        <Suspense>
          <Palette close={() => setPalette(false)} />
        </Suspense>
      )}
      {help && (
        <Suspense>
          <KeySheet close={() => setHelp(false)} />
        </Suspense>
      )}
    </>
  );
}
