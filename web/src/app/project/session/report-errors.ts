import type { Notices } from './notices';
import { isStorageFull, reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

/** Works on stored data; failures raise a notice, cancelling does not. */
export async function withErrorNotice(
  notices: Notices,
  noRoom: string,
  work: () => Promise<unknown>,
): Promise<void> {
  try {
    await work();
  } catch (error) {
    if ((error as Error).name === 'AbortError') return;
    notices.error(
      isStorageFull(error)
        ? projectWords.browserStorageIsFullNamed(noRoom)
        : projectWords.theActionFailed(reasonOf(error)),
    );
  }
}
