import { Button, type ButtonProps } from '@mui/material';
import { useRef, type ReactNode } from 'react';

/** A button that lets a file be chosen, each time anew. */
export function FileButton({
  label,
  accept,
  chosen,
  children,
  ...rest
}: Omit<ButtonProps, 'onClick'> & {
  /** The name of the chooser itself. */
  label: string;
  accept: string;
  chosen: (file: File) => void;
  children: ReactNode;
}): ReactNode {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...rest} onClick={() => chooser.current?.click()}>
        {children}
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          const file = event.target.files?.[0];
          // the same file may be chosen again once it was mended
          event.target.value = '';
          if (file) chosen(file);
        }}
      />
    </>
  );
}
