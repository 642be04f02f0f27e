export { canonicalExpression, compareExpressions, namesIn, renameNames, type Fold, type Sameness } from './expression'
export { nameOf, significant, tokenize, type Token, type TokenKind } from './tokens'
export { splitStatements, type SqlStatement } from './split'
