// What is said once for many columns: of every entity, or of a domain.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { logical } from '../derive'
import { diff, edit, newDesign, type Common, type Design } from '../design'
import { edits } from '../../../../tests/support/designs'
import {
  addCommon,
  addDomain,
  attach,
  changeCommon,
  changeDomain,
  columnGroups,
  copyDomains,
  domainFrom,
  moveCommon,
  withCommon,
  type Changed
} from '.'

const done = (design: Design, changed: Changed): Design => {
  if ('error' in changed) throw new Error(changed.error)
  return edit(design, changed.edit)
}
const why = (changed: Changed) => ('error' in changed ? changed.error : undefined)
const columnsOf = (design: Design, entity: string) =>
  logical(design)
    .entity(entity)
    ?.columns.map(({ name }) => name)

describe('a column of every entity', () => {
  it('stands in each behind its own, in their order, but for subtypes and those that do without', () => {
    let design = done(harbour(), addCommon(harbour(), 'made at', '', 'made at'))
    design = done(design, addCommon(design, 'tenant', 'int'))
    const [first, second] = Object.values(design.commons) as [Common, Common]
    expect(first).toMatchObject({ type: { kind: 'timestamp' }, required: true, kept: 'made at' })
    expect(columnsOf(design, 'ent_berth')?.slice(-2)).toEqual(['made at', 'tenant'])
    expect(columnsOf(design, 'ent_tug')).not.toContain('tenant')
    design = done(design, moveCommon(design, second, -1))
    expect(columnsOf(design, 'ent_berth')?.slice(-2)).toEqual(['tenant', 'made at'])
    const less = edit(design, withCommon(design, second.id, ['ent_berth', 'ent_visit'], false))
    expect(columnsOf(less, 'ent_berth')?.slice(-1)).toEqual(['made at'])
    expect(edit(less, withCommon(less, second.id, ['ent_berth', 'ent_visit'], true)).entities).toEqual(design.entities)
    const gone = edit(less, { kind: 'object.remove', collection: 'commons', id: second.id })
    expect(gone.entities).toEqual(harbour().entities)
  })

  it('says why it cannot be', () => {
    const design = done(harbour(), addCommon(harbour(), 'made at', '', 'made at'))
    const [common] = Object.values(design.commons) as [Common]
    expect(why(addCommon(design, ' ', 'int'))).toBe('A column needs a name.')
    expect(why(addCommon(design, 'Made At', 'int'))).toContain('already')
    expect(why(addCommon(design, 'name', 'int'))).toMatch(/^Country and \d more have a column “name”/)
    expect(why(addCommon(design, 'tenant', 'nonsense'))).toContain('no type')
    expect(why(changeCommon(design, common, 'type', 'int'))).toContain('A moment is a timestamp')
    expect(why(changeCommon(design, common, 'default', 'now'))).toContain('filled by itself')
    // What fills it makes it what that is.
    const user = done(design, changeCommon(design, common, 'kept', 'changed by'))
    expect(user.commons[common.id]).toMatchObject({ type: { kind: 'text' }, required: false, kept: 'changed by' })
  })
})

describe('a domain', () => {
  it('reaches every column that is of it when it changes, and nothing else', () => {
    fc.assert(
      fc.property(edits, fc.constantFrom('decimal(9,3)', 'text(7)', 'date', 'int'), (makes, type) => {
        let design = makes.reduce((d, make) => edit(d, make(d)), harbour())
        design = done(design, addDomain(design, 'Reach', 'text(5)'))
        const [domain] = Object.values(design.domains).filter(({ name }) => name === 'Reach')
        if (!domain) return
        const groups = columnGroups(design, {}).slice(0, 4)
        design = edit(design, attach(groups, domain.id))
        const after = done(design, changeDomain(design, design.domains[domain.id] ?? domain, 'type', type))
        const reached = new Set(groups.flatMap(({ columns }) => columns.map(({ attribute }) => attribute.id)))
        for (const entity of Object.values(after.entities))
          for (const attribute of entity.attributes)
            if (reached.has(attribute.id)) expect(attribute.type).toEqual(after.domains[domain.id]?.type)
        for (const { collection, id, path } of diff(design, after))
          if (collection !== 'domains') {
            expect(collection, id).toBe('entities')
            expect(path[0]).toBe('attributes')
            expect(reached.has(path[1] ?? '')).toBe(true)
          }
      }),
      { numRuns: 60 }
    )
  })

  it('is made of columns of one name and type, wherever they stand', () => {
    const design = harbour()
    const [names] = columnGroups(design, { text: 'name', without: true })
    expect(names).toMatchObject({ name: 'name', type: 'text(100)' })
    expect(names?.columns.map(({ entity }) => entity.name).sort()).toEqual(['Agent', 'Pilot', 'Vessel'])
    const made = done(design, domainFrom(design, names ? [names] : [], 'Person or ship'))
    const [left] = columnGroups(made, { text: 'name', without: true })
    expect(left?.type).toBe('text(80)')
    expect(columnGroups(made, { text: 'person or' })[0]?.columns).toHaveLength(3)
    expect(why(domainFrom(made, columnGroups(made, { text: 'name' }), 'Any'))).toContain('of one type')
    expect(why(domainFrom(made, [], 'Any'))).toContain('Choose the columns')
    expect(edit(made, attach(columnGroups(made, { text: 'person or' }), undefined)).entities).toEqual(design.entities)
    // Each column by itself, too.
    expect(columnGroups(design, { apart: true })).toHaveLength(
      Object.values(design.entities).reduce((sum, { attributes }) => sum + attributes.length, 0)
    )
  })

  it('is copied from another design, unless its name is taken', () => {
    const theirs = Object.values(harbour().domains)
    const { edit: copying, left } = copyDomains(newDesign('Other'), theirs)
    const copy = edit(newDesign('Other'), copying)
    expect(Object.values(copy.domains).map(({ name, type }) => ({ name, type }))).toEqual(
      theirs.map(({ name, type }) => ({ name, type }))
    )
    expect(left).toEqual([])
    expect(copyDomains(copy, theirs).left).toHaveLength(theirs.length)
  })

  it('has a rule of its values, and letters where it has any', () => {
    const design = done(newDesign('Any'), addDomain(newDesign('Any'), 'Code', 'text(8)'))
    const [code] = Object.values(design.domains)
    if (!code) throw new Error('it is there')
    expect(why(changeDomain(design, code, 'rule', 'length(code) > 1'))).toContain('“value”')
    expect(why(changeDomain(design, code, 'rule', "value = '"))).toBeDefined()
    expect(why(changeDomain(design, code, 'letters', 'small'))).toContain('upper or lower')
    expect(done(design, changeDomain(design, code, 'rule', 'length(value) > 1')).domains[code.id]?.rule).toBe(
      'length(value) > 1'
    )
    const number = done(design, changeDomain(design, code, 'type', 'int')).domains[code.id]
    expect(number && why(changeDomain(design, number, 'letters', 'upper'))).toContain('Only text')
  })
})
