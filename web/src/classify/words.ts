import type { Method } from '../api/types'

export const METHOD_WORDS: Record<Method, string> = {
  'natural-breaks': 'Natural breaks',
  quantile: 'Quantile',
  'equal-interval': 'Equal interval',
  'standard-deviation': 'Standard deviation',
  pretty: 'Pretty',
  geometric: 'Geometric',
  'head-tail': 'Head/tail',
  manual: 'By hand',
}
