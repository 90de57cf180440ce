import { useNavigate } from 'react-router';
import { broadcasts } from '../../../core/api/sending/broadcasts';
import { useAct } from '../../api/client';

/** Makes it the draft again that was agreed to, and leads to its last look: nothing goes before it is pressed there. */
export function usePutBack(id: number): () => Promise<void> {
  const navigate = useNavigate();
  const putBack = useAct(broadcasts.putBack);
  return async () => {
    await putBack({ params: { id } });
    await navigate(`/broadcasts/${id}/last-look`);
  };
}
