export {
  cellText,
  COLUMNS,
  commit,
  inKey,
  isNewRow,
  NEW_ROW,
  rowsOf,
  type Cell,
  type ColumnName,
  type Committed,
  type Row
} from './cells'
export { addedColumn, changedRow, rowText } from './row-text'
export { drawnLink, LINK_KINDS, type LinkKind, type LinkToBe } from './drawn-link'
export { attach, columnGroups, copyDomains, domainFrom, type ColumnGroup } from './attach'
export { addCommon, changeCommon, moveCommon, withCommon, type CommonField } from './common-cells'
export { addDomain, addShortWord, changeDomain, removeShortWord, type Changed, type Field } from './domain-cells'
export { fieldsOf, paste, pasteSpread } from './paste'
export { MEANINGS, readTable, type Meaning, type Reading } from './spread'
export { commitMany, copied, dropRows, moveRows, removeRows, shiftRow, type RowPlace } from './many'
export { typedType, type Typed } from './typed'
export { printCondition, typedCondition } from './conditions'
export { printList, rowNames, typedList, type Part } from './lists'
