import { Button, ListItemText, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';

/** What stands in a table, as a file: of which kind is chosen from a menu. */
export function ExportMenu({
  says = 'Export',
  files,
}: {
  says?: string;
  files: readonly { words: string; href: string }[];
}): React.ReactNode {
  const [anchor, setAnchor] = useState<HTMLElement>();
  return (
    <>
      <Button aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        {says}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== undefined} onClose={() => setAnchor(undefined)}>
        {files.map(({ words, href }) => (
          <MenuItem key={words} component="a" href={href} download onClick={() => setAnchor(undefined)}>
            <ListItemText>{words}</ListItemText>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
