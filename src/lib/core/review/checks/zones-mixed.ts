import { called, columnsOf, type Check } from '../check'

export const zonesMixed: Check = {
  id: 'zones-mixed',
  title: 'Moments told in two ways',
  why: 'With a zone it is a moment, without it is what a clock somewhere showed: held against each other, hours are missing.',
  grade: 'info',
  find: (subject) => {
    const moments = columnsOf(subject).filter(([, { type }]) => type.kind === 'timestamp')
    const isZoned = ([, { type }]: (typeof moments)[number]) => type.kind === 'timestamp' && type.zoned === true
    const zoned = moments.filter(isZoned)
    const few = zoned.length * 2 <= moments.length ? zoned : moments.filter((moment) => !isZoned(moment))
    const with_ = few === zoned ? 'with' : 'without'
    return few.map(([entity, attribute]) => ({
      at: attribute.id,
      message: `${called(entity, attribute)} is ${with_} a zone, unlike most moments here.`
    }))
  }
}
