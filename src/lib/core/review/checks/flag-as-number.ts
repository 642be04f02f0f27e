import { called, columnsOf, settingOf, type Check } from '../check'

export const flagAsNumber: Check = {
  id: 'flag-as-number',
  title: 'Yes or no as something else',
  why: 'Two and “maybe” are taken for an answer, too.',
  grade: 'info',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { name, type, domain }]) => {
        const wide = ['tiny', 'small', 'integer'].includes(type.kind) || (type.kind === 'char' && type.length === 1)
        return wide && domain === undefined && /^(is|has|can|was)[\s_]/i.test(name)
      })
      .map(([entity, attribute]) => ({
        at: attribute.id,
        message: `${called(entity, attribute)} sounds like yes or no, and is held as ${attribute.type.kind}.`,
        ...(attribute.default === undefined && attribute.min === undefined && attribute.max === undefined
          ? { fix: settingOf(entity, attribute, { type: { kind: 'boolean' } }, 'Make it boolean') }
          : {})
      }))
}
