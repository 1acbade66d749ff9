import type { AnswerOf, Asking, CallName } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { Api } from '../data/api';

type Answers = { readonly [N in CallName]?: (asking: Asking<N>) => Observable<AnswerOf<N>> };

/** Calls that a specification answers itself. Any other is an error. */
export const fakeApi = (answers: Answers) => ({
  provide: Api,
  useValue: {
    ask: (name: CallName, asking: never) => {
      const answer = answers[name] as ((asking: never) => Observable<unknown>) | undefined;
      if (!answer) throw new Error(`${name} was not expected.`);
      return answer(asking);
    },
  },
});
