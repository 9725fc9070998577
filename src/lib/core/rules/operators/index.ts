import type { ValueType } from '../../paths/scopes';
import type { Path } from '../../schema/path';
import type { Test } from '../../schema/rule';
import { choiceOperators } from './choice';
import { memberOperators } from './members';
import { moneyOperators } from './money';
import { fits, type Operator } from './operator';
import { orderOperators } from './order';
import { generalOperators } from './presence';
import { textOperators } from './text';
import { integerOperators } from './integers';

/** Every operator, in the order in which the rule builder offers them. */
export const operators: Operator[] = [
  ...textOperators,
  ...orderOperators,
  ...moneyOperators,
  ...integerOperators,
  ...choiceOperators,
  ...memberOperators,
  ...generalOperators,
];

const byName = new Map(operators.map((operator) => [operator.name, operator]));

export const operatorNamed = (name: string): Operator | undefined => byName.get(name);

/** How a test of a value begins: yes for what is answered by yes or no, and having a value for all else. */
export const startingTest = (path: Path, type: ValueType): Test => ({
  test: isYesNo(type) ? 'yesno.yes' : 'filled',
  path,
});

/** Whether a value is one yes or no. */
export const isYesNo = (type: ValueType): boolean => operatorsFor(type).some(({ group }) => group === 'yesno');

export const operatorsFor = (type: ValueType): Operator[] => operators.filter((operator) => fits(operator, type));
