export { CHECKS } from './checks'
export { whyNoCheck } from './own'
export { review, type Finding, type Review, type Silenced } from './review'
