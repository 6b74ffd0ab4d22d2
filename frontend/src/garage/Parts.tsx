import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { after, type FieldOut, type ShelfItem } from '../api/client'
import { problemText, useFields, useLibrary, useRegisters, useShelfCall } from '../api/hooks'
import type { Doc, ValueDoc } from '../lib/path'
import { show, type UnitPrefs } from '../lib/units'
import { Act, Loading, Trouble } from '../ui/atoms'
import { FilePick } from '../ui/FilePick'
import { type FieldProps, OneField } from '../ui/PartEditor'
import { Rows } from '../ui/Rows'
import { ShelfPicture, TwoParts } from '../ui/ShelfPicture'

const COLUMNS = 8
const INSIDE = new Set(['part', 'list'])

/** The parts shelf: generic parts that come with the program, and your own. */
export function Parts({ prefs }: { prefs: UnitPrefs }) {
  const [kind, setKind] = useState('cell')
  const [picked, setPicked] = useState<string | null>(null)
  const fields = useFields().data
  const items = useLibrary(kind)
  const call = useShelfCall()
  const go = useNavigate()
  const kinds = useRegisters().data?.parts ?? []
  const cls = kinds.find((k) => k.key === kind)?.cls ?? ''
  const specs = (fields?.[cls] ?? []).filter((f) => !INSIDE.has(f.kind))
  const shown = specs.filter((f) => f.kind === 'number' && !f.detail && !f.own).slice(0, 5)
  const [find, setFind] = useState('')
  const [by, setBy] = useState('')
  const [beside, setBeside] = useState<string[]>([])
  const item = items.data?.find((x) => x.id === picked)
  const heads = items.data?.[0]?.figures.length ? items.data[0].figures.slice(0, COLUMNS).map((f) => ({ key: f.key, label: f.label, quantity: f.quantity })) : shown.map((f) => ({ key: f.name, label: f.label, quantity: f.quantity }))
  const value = (x: ShelfItem, key: string) => (x.figures.length ? x.figures.find((f) => f.key === key)?.value : (x.doc[key] as ValueDoc | null)?.amount) ?? null
  const words = find.toLowerCase().split(/\s+/).filter(Boolean)
  const list = (items.data ?? []).filter((x) => words.every((word) => x.name.toLowerCase().includes(word)))
  if (by) list.sort((a, b) => (value(b, by) ?? -Infinity) - (value(a, by) ?? -Infinity))
  const two = beside.map((id) => items.data?.find((x) => x.id === id)).filter((x) => x !== undefined)
  return (
    <Box maxW="page" mx="auto" px={{ base: '3', md: '6' }} py="4" as="main">
      <Flex align="flex-end" gap="3" wrap="wrap" mb="3">
        <Act tone="ghost" px="2" onClick={() => go('/')}>
          ‹ Garage
        </Act>
        <Text as="h1" id="work" textStyle="title" fontSize="large" flex="1">
          Parts shelf
        </Text>
        <Box minW="field">
          <label htmlFor="kind">Kind of part</label>
          <NativeSelect.Root>
            <NativeSelect.Field id="kind" h="touch" bg="sheet" borderColor="rule-strong" value={kind} onChange={(e) => (setKind(e.target.value), setPicked(null), setFind(''), setBy(''), setBeside([]))}>
              {kinds.map((k) => (
                <option key={k.key} value={k.key}>
                  {k.label}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Box>
        <FilePick label="Import parts" name="Parts file" reads="parts" pick={(file) => call.mutate({ do: 'import', kind, file })} />
        {(['csv', 'json'] as const).map((form) => (
          <Act key={form} asChild>
            <a href={`/api/library-export/${kind}?form=${form}`} download>
              {form.toUpperCase()}
            </a>
          </Act>
        ))}
      </Flex>
      {call.error && (
        <Trouble text={problemText(call.error)}>
          <Act onClick={() => call.reset()}>Close</Act>
        </Trouble>
      )}
      {items.isPending && <Loading what="Looking along the shelf …" />}
      {items.error && <Trouble text={problemText(items.error)} />}
      <Flex gap="6" direction={{ base: 'column', lg: 'row' }} align="flex-start">
        <Box flex="1" minW="0" w="100%">
          <Flex gap="3" mb="2" wrap="wrap">
            <Box flex="1 1 {sizes.field}">
              <label htmlFor="find">Find</label>
              <Input id="find" h="touch" bg="sheet" borderColor="rule-strong" value={find} placeholder="words of the name" onChange={(e) => setFind(e.target.value)} />
            </Box>
            <Box w="field">
              <label htmlFor="order">Order</label>
              <NativeSelect.Root>
                <NativeSelect.Field id="order" h="touch" bg="sheet" borderColor="rule-strong" value={by} onChange={(e) => setBy(e.target.value)}>
                  <option value="">as on the shelf</option>
                  {heads.map((f) => (
                    <option key={f.key} value={f.key}>
                      most {f.label.toLowerCase()}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
            </Box>
          </Flex>
          {items.data && <ShelfPicture items={list} picked={picked} pick={setPicked} prefs={prefs} />}
          {two.length > 0 && <TwoParts two={two} heads={heads} value={value} prefs={prefs} close={() => setBeside([])} />}
          {items.data && (
            <Rows
              label="Parts"
              heads={['part', ...heads.map((f) => f.label), '']}
              strong={list.findIndex((x) => x.id === picked)}
              rows={list.map((x) => [
                x.own ? `${x.name} (yours)` : x.name,
                ...heads.map((f) => show(value(x, f.key), f.quantity, prefs).text),
                <Flex key="o" gap="1" justify="flex-end">
                  <Act px="2" aria-label={`Open ${x.name}`} onClick={() => setPicked(x.id)}>
                    open
                  </Act>
                  <Act px="2" aria-label={`Put ${x.name} beside another`} aria-pressed={beside.includes(x.id)} bg={beside.includes(x.id) ? 'choice-wash' : 'sheet'} onClick={() => setBeside((now) => (now.includes(x.id) ? now.filter((i) => i !== x.id) : [...now, x.id].slice(-2)))}>
                    beside
                  </Act>
                </Flex>,
              ])}
            />
          )}
          {items.data && list.length === 0 && <Text py="3">Nothing on the shelf is called that.</Text>}
        </Box>
        {item && <OnePart key={item.id} item={item} kind={kind} specs={specs} prefs={prefs} call={call} pick={setPicked} />}
      </Flex>
    </Box>
  )
}

function OnePart(p: {
  item: ShelfItem
  kind: string
  specs: FieldOut[]
  prefs: UnitPrefs
  call: ReturnType<typeof useShelfCall>
  pick: (id: string | null) => void
}) {
  const { item, kind, call } = p
  const doc = item.doc as Doc
  const inside = Number(doc.inner_series ?? 1) * Number(doc.inner_parallel ?? 1)
  const set: FieldProps['set'] = (path, next) => call.mutate({ do: 'change', kind, id: item.id, shown: doc, next: (now) => ({ ...now, [path]: next(now[path]) }) })
  const copy = () =>
    after(call.mutateAsync({ do: 'add', kind, doc: { ...doc, name: `${item.name} (mine)` } }), (made) => p.pick((made as ShelfItem).id))
  return (
    <Box as="section" aria-label={item.name} w={{ base: '100%', lg: 'panel' }} flexShrink="0" bg="sheet" borderWidth="hair" borderColor="rule" p="3">
      <Flex gap="2" align="center" wrap="wrap">
        <Text as="h2" textStyle="title" fontSize="head" flex="1">
          {item.name}
        </Text>
        <Act onClick={() => p.pick(null)}>Close</Act>
      </Flex>
      {item.own ? (
        <>
          {p.specs.map((f) => (
            <OneField key={f.name} field={f} path={f.name} value={doc[f.name]} set={set} prefs={p.prefs} />
          ))}
          <Act mt="3" onClick={() => after(call.mutateAsync({ do: 'remove', id: item.id }), () => p.pick(null))}>
            Take it off the shelf
          </Act>
        </>
      ) : (
        <>
          <Text color="ink-soft" my="2">
            Comes with the program; make it yours to change it. {String(doc.source ?? '')}
          </Text>
          <Act tone="choice" disabled={call.isPending} onClick={copy}>
            Make a copy of mine
          </Act>
          {item.figures.length > 0 && (
            <Rows label={`${item.name} as a whole`} heads={['as a whole', '']} rows={item.figures.map((f) => [f.label, show(f.value, f.quantity, p.prefs).text])} />
          )}
          {inside > 1 && <Text mt="3" fontWeight="600">{`Of each of the ${inside} cells inside`}</Text>}
          <Rows
            label={`Values of ${item.name}`}
            heads={['', 'value', 'origin']}
            left={[0]}
            rows={p.specs.filter((f) => f.kind === 'number' && doc[f.name]).map((f) => [f.label, show((doc[f.name] as ValueDoc).amount, f.quantity, p.prefs).text, (doc[f.name] as ValueDoc).origin])}
          />
        </>
      )}
    </Box>
  )
}
