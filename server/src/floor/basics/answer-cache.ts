/** Answers that are worked out once, the ones asked for last; what failed is worked out again. */
export class AnswerCache<T> {
  private readonly answers = new Map<string, Promise<T>>();

  /** @param most answers that are remembered */
  constructor(private readonly most: number) {}

  get(key: string, work: () => Promise<T>): Promise<T> {
    let answer = this.answers.get(key);
    this.answers.delete(key);
    if (!answer) {
      answer = work();
      answer.catch(() => this.answers.delete(key));
    }
    this.answers.set(key, answer);
    for (const oldest of this.answers.keys()) if (this.answers.size > this.most) this.answers.delete(oldest);
    return answer;
  }
}
