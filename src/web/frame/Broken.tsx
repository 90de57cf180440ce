import { Button } from '@mui/material';
import { Component, type ReactNode } from 'react';
import { Pane } from '../pieces/layout';
import { Nothing } from '../pieces/small';

/** Says that a view could not be drawn, with the ways on. */
export function BrokenView({ again }: { again: () => void }): ReactNode {
  return (
    <Pane grow role="alert">
      <Nothing
        title="This view could not be shown"
        act={
          <Button variant="contained" onClick={again}>
            Try it again
          </Button>
        }
      >
        It is a fault of ours. What is saved is saved, and what is scheduled goes on; every other view is there.
      </Nothing>
    </Pane>
  );
}

/** What is thrown while a view is drawn takes only that view: the frame with all its ways stays. Another view begins anew. */
export class Broken extends Component<{ children: ReactNode; at: string }, { failed: string | undefined }> {
  override state = { failed: undefined as string | undefined };
  static getDerivedStateFromError(): { failed: string } {
    return { failed: location.pathname };
  }
  override componentDidUpdate(before: { at: string }): void {
    if (this.state.failed !== undefined && before.at !== this.props.at) this.setState({ failed: undefined });
  }
  override render(): ReactNode {
    if (this.state.failed === undefined) return this.props.children;
    return <BrokenView again={() => this.setState({ failed: undefined })} />;
  }
}
