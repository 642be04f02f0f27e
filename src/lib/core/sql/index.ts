export { canonicalExpression, compareExpressions, namesIn, renameNames, type Sameness } from './expression'
export { nameOf, significant, tokenize, type Fold, type Token, type TokenKind } from './tokens'
export { splitStatements, type SqlStatement } from './split'
