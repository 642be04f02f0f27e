export { compareExpressions, flatExpression, namesIn, renameNames, worst, type Sameness } from './expression'
export { standardLexis, type Bodies, type Fold, type Lexis } from './lexis'
export { nameOf, significant, textOf, tokenize, type Token, type TokenKind } from './tokens'
export { splitStatements, type SqlStatement } from './split'
