import { describe, expect, it } from 'vitest'
import { day, minute } from './when'

describe('moments', () => {
  it('are those of the clock on the wall, seven hours behind in winter and six in summer', () => {
    expect(minute('2031-01-05T02:30:00.000+00:00')).toBe('2031-01-04 19:30')
    expect(minute('2031-07-05T02:30:00.000+00:00')).toBe('2031-07-04 20:30')
    expect(day('2031-01-05T02:30:00.000+00:00')).toBe('2031-01-04')
  })
  it('that are a day are that day anywhere', () => {
    expect(day('2031-01-05')).toBe('2031-01-05')
    expect(minute('2031-01-05')).toBe('2031-01-05')
  })
  it('that nobody knows are nothing, and no moment stays as it was written', () => {
    expect(day('')).toBe('')
    expect(minute('')).toBe('')
    expect(day('spring')).toBe('spring')
  })
})
