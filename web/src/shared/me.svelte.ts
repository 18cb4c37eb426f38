// Who uses this device, and what it was let in for.
import { api } from '../api/client';
import type { Me, Named } from '../api/types.gen';

class Mine {
  view: Me | null = $state.raw(null);

  constructor() {
    api.me().then(
      (view) => (this.view = view),
      () => undefined, // that the program does not answer is told by the screen
    );
  }

  async call(named: Named) {
    this.view = await api.callMe(named);
  }
}

export const me = new Mine();
