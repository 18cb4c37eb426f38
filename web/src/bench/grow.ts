// What can be changed of a sheet at the bench, as it is asked of a person.
import type { ToGrow } from '../api/types.gen';

export type Growth = Omit<ToGrow, 'revision'>;

/** Where it is changed. */
export interface Where {
  at: string; // what is aimed at
  before: string; // the stage that leads there on the route
  behind: string; // the stage that leads on
  stage: string; // that is picked
  read: Read | null; // what was read there last, as a number
}

/** A reading that may be right. */
export interface Read {
  text: string;
  says: string;
  quantity: Growth['quantity'];
  mode: string;
}

export interface Given extends Where {
  name: string;
  value: string;
  from: string;
  lines: string;
  quantity: Growth['quantity'];
}

type Asked = 'stage' | 'name' | 'value' | 'source' | 'lines' | 'from';

export interface Way {
  key: string;
  says: (w: Where) => string;
  asks: Asked[];
  named: string;
  /** What the name begins with. */
  begins?: 'aim';
  fits: (w: Omit<Where, 'stage'> & { line: boolean; onRoute: boolean; usual: boolean }) => boolean;
  growth: (g: Given) => Growth;
}

export const ways: Way[] = [
  {
    key: '1',
    says: ({ at }) => `Call ${at} by the name that the board has for it`,
    asks: ['name'],
    named: 'Its name',
    begins: 'aim',
    fits: ({ at }) => at !== '',
    growth: ({ at, name }) => ({ do: 'name', at, name }),
  },
  {
    key: '2',
    says: ({ at, before }) => `A point before ${at}: ${before} falls in two`,
    asks: ['name'],
    named: 'The new point',
    fits: ({ before }) => before !== '',
    growth: ({ before, name }) => ({ do: 'divide', at: before, name }),
  },
  {
    key: '3',
    says: ({ at, behind }) => `A point behind ${at}: ${behind} falls in two`,
    asks: ['name'],
    named: 'The new point',
    fits: ({ behind }) => behind !== '',
    growth: ({ behind, name }) => ({ do: 'divide', at: behind, name }),
  },
  {
    key: '4',
    says: () => 'Divide a stage into its parts',
    asks: ['stage', 'lines'],
    named: '',
    fits: () => true,
    growth: ({ stage, lines }) => ({
      do: 'divide',
      at: stage,
      into: lines
        .split('\n')
        .map((name) => ({ name: name.trim() }))
        .filter(({ name }) => name !== ''),
    }),
  },
  {
    key: '5',
    says: () => 'Take a stage out that this set does not have',
    asks: ['stage'],
    named: '',
    fits: () => true,
    growth: ({ stage }) => ({ do: 'remove', at: stage }),
  },
  {
    key: '6',
    says: ({ at }) => `Say what is due at ${at}`,
    asks: ['value', 'source'],
    named: '',
    fits: ({ at }) => at !== '',
    growth: ({ at, value, from, quantity }) => ({ do: 'expect', at, value, from, quantity }),
  },
  {
    key: 'm',
    says: ({ at }) => `The manual says so too: what is usual at ${at} is due there`,
    asks: [],
    named: '',
    fits: ({ usual }) => usual,
    growth: ({ at, quantity }) => ({ do: 'expect', at, value: '', from: '', quantity }),
  },
  {
    key: 'r',
    says: ({ at, read }) => `This reading is right: ${read?.says ?? ''} is due at ${at}`,
    asks: [],
    named: '',
    fits: ({ read }) => read !== null,
    growth: ({ at, read, quantity }) => ({
      do: 'expect',
      at,
      value: read?.text ?? '',
      from: 'good',
      quantity: read?.quantity ?? quantity,
      mode: read?.mode ?? '',
    }),
  },
  {
    key: '7',
    says: ({ at }) => `A further way in, that leads to ${at}`,
    asks: ['name'],
    named: 'The new entry',
    fits: ({ onRoute }) => onRoute,
    growth: ({ at, name }) => ({ do: 'entry', at, name }),
  },
  {
    key: '8',
    says: ({ at }) => `A further way out, from ${at}`,
    asks: ['name'],
    named: 'The new exit',
    fits: ({ onRoute }) => onRoute,
    growth: ({ at, name }) => ({ do: 'exit', at, name }),
  },
  {
    key: '9',
    says: () => 'A supply that a stage needs',
    asks: ['stage', 'name', 'value', 'source'],
    named: 'Its name',
    fits: () => true,
    growth: ({ stage, name, value, from }) => ({ do: 'rail', at: stage, name, value, from }),
  },
  {
    key: '0',
    says: () => 'A control line that a stage needs',
    asks: ['stage', 'name', 'value', 'source'],
    named: 'Its name',
    fits: () => true,
    growth: ({ stage, name, value, from }) => ({ do: 'control', at: stage, name, value, from }),
  },
  {
    key: 'a',
    says: () => 'The other channel alike, another board or voice',
    asks: ['from', 'name'],
    named: 'What the other is called instead: R, right, 2',
    fits: () => true,
    growth: ({ from, name }) => ({ do: 'alike', at: '', from, name }),
  },
];
