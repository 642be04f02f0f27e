import { wordsOf } from '../../naming'
import { called, columnsOf, settingOf, type Check } from '../check'

const MONEY = new Set(
  'price cost amount fee fees charge tariff total subtotal balance salary wage payment budget revenue tax vat discount due dues paid rate'.split(
    ' '
  )
)

export const moneyAsFloat: Check = {
  id: 'money-as-float',
  title: 'Money as a measured number',
  why: 'Most sums of cents cannot be held exactly by such a type: totals are off by a little, and never the same little.',
  grade: 'warning',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { name, type, domain }]) => {
        const measured = type.kind === 'float' || type.kind === 'double'
        return measured && domain === undefined && wordsOf(name).some((word) => MONEY.has(word.toLowerCase()))
      })
      .map(([entity, attribute]) => ({
        at: attribute.id,
        message: `${called(entity, attribute)} sounds like money, and is held as ${attribute.type.kind}.`,
        fix: settingOf(
          entity,
          attribute,
          { type: { kind: 'decimal', precision: 12, scale: 2 } },
          'Make it decimal(12,2)'
        )
      }))
}
