import DeleteOutline from '@mui/icons-material/DeleteOutlined';
import { IconButton, Tooltip } from '@mui/material';

/** Removes a row of a table; `why` says what that means, where it is more than the word. */
export function RemoveButton({
  name,
  why,
  disabled,
  onClick,
}: {
  name: string;
  why?: string;
  disabled?: boolean;
  onClick: () => void;
}) {
  return (
    <Tooltip title={why ?? 'Remove'}>
      <IconButton disabled={disabled} aria-label={`Remove ${name}`} onClick={onClick}>
        <DeleteOutline fontSize="small" />
      </IconButton>
    </Tooltip>
  );
}
