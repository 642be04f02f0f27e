// The rights that new objects get: manual, ALTER DEFAULT PRIVILEGES.
import type { DefaultRights, Right } from '../../../catalog'
import type { Carried, StepDraft } from '../../dialect'
import { hasRight, type Words } from './words'

type Given = Carried & { readonly kind: 'defaultRights' }

export function defaultRightsCarrier({ quote, asOne, who }: Words) {
  /** ALTER DEFAULT PRIVILEGES, from what is there. */
  const defaultGrants = (rights: DefaultRights, from: readonly Right[]): string[] => {
    const head = `ALTER DEFAULT PRIVILEGES FOR ROLE ${rights.role === 'CURRENT_USER' ? rights.role : quote(rights.role)}${rights.schema === undefined ? '' : ` IN SCHEMA ${quote(rights.schema)}`}`
    const grant = (right: Right) =>
      `${head} GRANT ${right.may} ON ${rights.of} TO ${who(right)}${right.grantable ? ' WITH GRANT OPTION' : ''}`
    const revoke = (right: Right) => `${head} REVOKE ${right.may} ON ${rights.of} FROM ${who(right)}`
    return [
      ...from
        .filter((right) => !hasRight(rights.rights, right))
        .map((right) => (right.revoked ? grant(right) : revoke(right))),
      ...rights.rights
        .filter((right) => !hasRight(from, right))
        .map((right) => (right.revoked ? revoke(right) : grant(right)))
    ]
  }

  const none = (object: Given): Given => ({ ...object, value: { ...object.value, rights: [] } })
  const whole = ({ address, value }: Given, action: 'create' | 'drop') => ({
    action,
    address,
    object: { kind: 'defaultRights' as const, value }
  })
  const alter = (object: Given, to: readonly Right[]): StepDraft[] =>
    asOne(object, defaultGrants({ ...object.value, rights: to }, object.value.rights), 'rights', to, [])

  return {
    alter,
    create: (object: Given): StepDraft[] =>
      alter(none(object), object.value.rights).map((draft, i) =>
        i > 0 ? draft : { ...draft, effects: [whole(object, 'create')] }
      ),
    drop: (object: Given): StepDraft[] =>
      defaultGrants(none(object).value, object.value.rights).map((statement, i) => ({
        statement,
        why: 'takes back what new objects are given',
        effects: i > 0 ? [] : [whole(object, 'drop')],
        hazards: []
      }))
  }
}
