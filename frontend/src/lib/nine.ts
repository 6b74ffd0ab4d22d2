export const BOLTS = ['donor', 'goal', 'pack', 'guard', 'drive', 'gear', 'wire', 'tune', 'prove'] as const
export type Bolt = (typeof BOLTS)[number]

export const QUESTION: Record<Bolt, string> = {
  donor: 'What am I starting from?',
  goal: 'What would it take?',
  pack: 'Which cells, how many, and will they go in?',
  guard: 'What protects it, and what cuts out first?',
  drive: 'Do motor, controller and pack belong together?',
  gear: 'What ratio, and will the chassis bear it?',
  wire: 'How is it hooked up?',
  tune: 'What do I write into the controller?',
  prove: 'Is it safe to ride, and is it faster?',
}

export const title = (bolt: string): string => bolt.charAt(0).toUpperCase() + bolt.slice(1)

export const STATE_WORDS: Record<string, string> = {
  loose: 'not enough known',
  snug: 'computes, nothing stops it',
  marked: 'signed off',
  broken: 'mark broken: something moved since',
  stopped: 'a stop stands',
  failed: 'could not be computed',
}
