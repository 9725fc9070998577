/** What a screen was given at once, or gets later than everything else. */
export class Coming<T> {
  private come: { from: unknown; value?: T; failed?: boolean } = $state.raw({ from: undefined });
  private readonly given: T | Promise<T>;

  /** `of` reads what the screen was given. */
  constructor(of: () => { of: T | Promise<T> }) {
    this.given = $derived.by(() => {
      const given = of().of;
      if (given instanceof Promise)
        given.then(
          (value) => (this.come = { from: given, value }),
          () => (this.come = { from: given, failed: true }),
        );
      return given;
    });
  }

  /** What has come; undefined until then. */
  get now(): T | undefined {
    const { given, come } = this;
    if (!(given instanceof Promise)) return given;
    return come.from === given ? come.value : undefined;
  }

  /** It will not come; the page asks for it again when it is loaded again. */
  get failed(): boolean {
    const { given, come } = this;
    return come.from === given && Boolean(come.failed);
  }
}
