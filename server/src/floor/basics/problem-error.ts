/** An error that a person is told about: status, stable code and a sentence. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly fields?: Readonly<Record<string, string>>,
  ) {
    super(sentence);
    this.name = 'ProblemError';
  }
}

/** A sentence for an error of the machine rather than of the input, or null when it is neither known nor harmless. */
export function machineSentence(error: unknown): string | null {
  const code = (error as { code?: string } | null)?.code ?? '';
  if (['ENOSPC', 'EDQUOT', 'ER_DISK_FULL', 'ER_RECORD_FILE_FULL', 'ER_DISK_FULL_NOWAIT'].includes(code)) {
    return 'The disk is full, so the file could not be kept. Your design is safe. Free some room and press the button again.';
  }
  return null;
}
