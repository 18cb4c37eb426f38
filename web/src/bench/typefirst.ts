/**
 * Sends what is typed anywhere on a screen into its field: digits at once, words after w or /.
 */
export class TypeFirst {
  private swallow = '';

  constructor(private readonly field: () => HTMLInputElement | undefined) {}

  /** Handles a key press outside of fields; true where it opened the field. */
  press(event: KeyboardEvent): boolean {
    if (/^[0-9.,+\-−]$/.test(event.key)) {
      this.field()?.focus(); // the digit itself goes into the field
      return true;
    }
    if (event.key !== '/' && event.key !== 'w') return false;
    this.swallow = event.key;
    this.field()?.focus();
    event.preventDefault();
    return true;
  }

  /** The key that opens the field must not go into it, even where its character comes late. */
  input(event: InputEvent) {
    if (this.swallow !== '' && event.data === this.swallow) event.preventDefault();
    this.swallow = '';
  }

  release() {
    this.swallow = '';
  }
}
