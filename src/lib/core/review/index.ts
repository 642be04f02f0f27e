export { CHECKS } from './checks'
export { embedding, type Embedding } from './embedding'
export { whyNoCheck } from './own'
export { review, type Finding, type Review, type Silenced } from './review'
