import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText, useCards } from '../../api/hooks'
import { useFair, useFilm } from '../../api/traces'
import { show } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { NamePick } from '../../ui/NamePick'
import { Rows } from '../../ui/Rows'
import { type Field, NumberField, useNumber } from '../../ui/NumberField'

/** Is it the same tune? */
export function SameTune() {
  const { bench, prefs } = useWorkshop()
  const cards = (useCards().data ?? []).filter((c) => c.id !== bench.id && !c.archived)
  const [other, setOther] = useState('')
  const query = useFair(bench.id, other, bench.version)
  const f = other ? query.data : undefined
  const said = (v: number | null, quantity: string) => (v === null ? 'not known' : show(v, quantity, prefs, 4).text)
  return (
    <Box mt="5">
      <Text textStyle="title" fontSize="lead">
        The same tune?
      </Text>
      <NamePick label="Against which build" rows={cards} value={other} none="against another build …" pick={setOther} />
      {query.error && other && <Trouble text={problemText(query.error)} />}
      {f && (
        <>
          <Text fontWeight="600" mt="2">
            {f.sentence} {f.equal} settings are alike.
          </Text>
          {f.rows.length > 0 && (
            <Rows label="What differs" heads={['what', f.first, f.second, '', 'why']} left={[0, 3, 4]} rows={f.rows.map((r) => [r.label, said(r.first, r.quantity), said(r.second, r.quantity), r.kind, r.why])} />
          )}
        </>
      )}
    </Box>
  )
}

/** A time from a film, with what its frames leave open. */
export function Film() {
  const [first, last] = [useNumber('s', 's'), useNumber('s', 's')]
  const [fps, slowed, claim] = [useNumber('ratio', ''), useNumber('ratio', ''), useNumber('s', 's')]
  const [read, setRead] = useState(true)
  const film = useFilm()
  const fields: [string, Field][] = [
    ['it rolls at, s of film', first],
    ['at the mark, s of film', last],
    ['frames a second', fps],
    ['slowed by (1: real time)', slowed],
    ['claimed, s', claim],
  ]
  const ready = first.si !== null && last.si !== null && fields.every(([, f]) => !f.problem)
  const go = () =>
    film.mutate({
      marks: [
        { what: 'the start', at_s: first.si!, reading: 0, quantity: 'm_s' },
        { what: 'the mark', at_s: last.si!, reading: read ? 1 : null, quantity: 'ratio' },
      ],
      fps: fps.si,
      slowed: slowed.si,
      claim_s: claim.si,
    })
  return (
    <Box mt="5">
      <Text textStyle="title" fontSize="lead">
        A time from a film
      </Text>
      <Flex gap="3" wrap="wrap" align="flex-end" mt="1">
        {fields.map(([label, field]) => (
          <NumberField key={label} label={label} field={field} w="figure" />
        ))}
        <Act aria-pressed={read} onClick={() => setRead(!read)}>
          {read ? 'The mark can be read' : 'The mark cannot be read'}
        </Act>
        <Act tone="choice" disabled={!ready || film.isPending} onClick={go}>
          Take the time
        </Act>
      </Flex>
      {film.error && <Trouble text={problemText(film.error)} />}
      {film.data && (
        <Flex gap="2" mt="2" role="status" align="center">
          {film.data.claim === 'contradicted' && <Severity kind="caution" />}
          <Text fontWeight="600">{film.data.sentence}</Text>
        </Flex>
      )}
    </Box>
  )
}
