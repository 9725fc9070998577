import type { ValueType } from '../../paths/scopes';
import { choiceOperators } from './choice';
import { memberOperators } from './members';
import { fits, type Operator } from './operator';
import { orderOperators } from './order';
import { generalOperators } from './presence';
import { textOperators } from './text';
import { wholeOperators } from './whole';

/** Every operator, in the order in which the rule builder offers them. */
export const operators: Operator[] = [
  ...textOperators,
  ...orderOperators,
  ...wholeOperators,
  ...choiceOperators,
  ...memberOperators,
  ...generalOperators,
];

const byName = new Map(operators.map((operator) => [operator.name, operator]));

export const operatorNamed = (name: string): Operator | undefined => byName.get(name);

export const operatorsFor = (type: ValueType): Operator[] => operators.filter((operator) => fits(operator, type));
