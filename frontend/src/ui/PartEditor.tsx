import { Box, Field, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { Fragment, memo, useCallback, useEffect, useId, useMemo, useRef, useState } from 'react'
import type { FieldOut, ShelfItem } from '../api/client'
import { problemText, useKeepFromBuild, useLibrary, useRegisters } from '../api/hooks'
import { at, type Doc, type ValueDoc } from '../lib/path'
import { show } from '../lib/units'
import { Act, Wrapped } from './atoms'
import { fieldsAt, labelAt, one, specAt, useWorkshop } from './bench'
import { ShelfPicture } from './ShelfPicture'
import { useDraft } from './useDraft'
import { useLines } from './useLines'
import { ValueField } from './ValueField'

const UNLOOKED = 'not looked at'
const isKnown = (value: unknown) => (value as ValueDoc | null)?.amount != null

/** Every field of the part at a path, and the library to take another from. */
export function PartEditor({ path }: { path: string }) {
  const { bench, fields, change, prefs, open } = useWorkshop()
  const kinds = useRegisters().data?.parts
  const [more, setMore] = useState(false)
  const latest = useRef(change)
  useEffect(() => {
    latest.current = change
  })
  const set = useCallback<FieldProps['set']>((to, next) => latest.current((now) => [{ path: to, value: next(at(now, to)) }], ''), [])
  const use = at(bench.doc, 'goal.use') as string
  const list = useMemo(() => fieldsAt(fields, path).map((f) => (use in f.assume_by ? { ...f, assume: f.assume_by[use]! } : f)), [fields, path, use])
  const doc = at(bench.doc, path) as Doc | undefined
  if (!doc) return <Text p="3">This line is gone.</Text>
  const plain = list.filter((f) => !f.detail)
  const detail = list.filter((f) => f.detail)
  const row = (f: FieldOut) => <OneField key={f.name} field={f} path={`${path}.${f.name}`} value={doc[f.name]} set={set} prefs={prefs} />
  const counted = doc.presence === UNLOOKED && list.some((f) => f.tells && isKnown(doc[f.name]))
  const cls = specAt(fields, path)?.part
  const kind = kinds?.find((k) => k.cls === cls)?.key
  const parent = path.replace(/\.\d+$/, '')
  const remove = () => {
    const shown = JSON.stringify(doc)
    const own = Number(path.split('.').pop())
    change((now) => {
      const items = at(now, parent) as unknown[]
      const same = (x: unknown) => JSON.stringify(x) === shown
      // It moved up where one before it was removed meanwhile; it is where it was, and another text, where it was typed into.
      const index = same(items[own]) || !items.some(same) ? own : items.findIndex(same)
      return [{ path: parent, value: items.filter((_, i) => i !== index) }]
    }, 'Removed a line')
    open({ kind: 'findings' })
  }
  return (
    <Box pb="4">
      {kind && <FromLibrary kind={kind} path={path} doc={doc} />}
      {plain.map((f) => (
        <Fragment key={f.name}>
          {row(f)}
          {f.name === 'presence' && counted && (
            <Text fontSize="note" color="choice" role="note">
              Counted as fitted: its ratings are known. Say “not there” if it is only on paper.
            </Text>
          )}
        </Fragment>
      ))}
      {detail.length > 0 && (
        <Act mt="2" onClick={() => setMore(!more)} aria-expanded={more}>
          {more ? 'Fewer values' : `${detail.length} more values`}
        </Act>
      )}
      {more && detail.map(row)}
      {path !== parent && (
        <Act mt="4" onClick={remove}>
          Remove this line
        </Act>
      )}
    </Box>
  )
}

function FromLibrary({ kind, path, doc }: { kind: string; path: string; doc: Doc }) {
  const { change, fields, bench } = useWorkshop()
  const items = useLibrary(kind).data ?? []
  const keep = useKeepFromBuild(kind)
  const [eye, setEye] = useState(false)
  const id = useId()
  const take = (itemId: string) => {
    const item = items.find((x) => x.id === itemId)
    if (!item) return
    const own = fieldsAt(fields, path).filter((f) => f.own)
    const kept = Object.fromEntries(own.map((f) => [f.name, doc[f.name]]))
    const fitted = 'presence' in item.doc ? { presence: 'fitted' } : {}
    change([{ path, value: { ...item.doc, ...kept, ...fitted } }], `Took ${item.name}`)
  }
  const there = items.some((x) => x.own && x.name === doc.name)
  return (
    <Box py="1.5">
      <label htmlFor={id}>
        <Text fontWeight="500">Take one from the library</Text>
      </label>
      <NativeSelect.Root>
        <NativeSelect.Field id={id} value="" onChange={(e) => take(e.target.value)}>
          <option value="">{String(doc.name || 'choose …')}</option>
          {items.map((x) => (
            <option key={x.id} value={x.id}>
              {x.own ? `${x.name} (yours)` : x.name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {items.length > 1 && (
        <Act mt="1" aria-expanded={eye} onClick={() => setEye(!eye)}>
          Choose by eye
        </Act>
      )}
      {eye && <ByEye items={items} now={String(doc.name ?? '')} take={take} />}
      {doc.name && !there ? (
        <Act mt="1" disabled={keep.isPending} onClick={() => keep.mutate({ build_id: bench.id, path })}>
          Keep this one on my shelf
        </Act>
      ) : null}
      {keep.isSuccess && there && (
        <Text fontSize="note" color="choice" role="status">
          On your shelf, for other builds too.
        </Text>
      )}
      {keep.error && (
        <Text fontSize="note" color="stop" role="alert">
          {problemText(keep.error)}
        </Text>
      )}
    </Box>
  )
}

/** The shelf of a kind inside a build: found by words, chosen on its picture, taken with a press. */
function ByEye({ items, now, take }: { items: ShelfItem[]; now: string; take: (id: string) => void }) {
  const { prefs, busy } = useWorkshop()
  const [find, setFind] = useState('')
  const [picked, setPicked] = useState<string | null>(items.find((x) => x.name === now)?.id ?? null)
  const words = find.toLowerCase().split(/\s+/).filter(Boolean)
  const list = items.filter((x) => words.every((w) => x.name.toLowerCase().includes(w)))
  const item = list.find((x) => x.id === picked)
  return (
    <Box mt="2" p="2" bg="well" role="group" aria-label="Shelf">
      <Input aria-label="Find on the shelf" placeholder="words of the name" value={find} onChange={(e) => setFind(e.target.value)} mb="2" />
      <ShelfPicture items={list} picked={picked} pick={setPicked} prefs={prefs} />
      <Box maxH="pick" overflowY="auto" tabIndex={0} role="region" aria-label="Parts found">
        {list.map((x) => (
          <Act key={x.id} w="100%" justifyContent="flex-start" whiteSpace="normal" textAlign="left" tone="ghost" aria-pressed={x.id === picked} bg={x.id === picked ? 'choice-wash' : 'transparent'} onClick={() => setPicked(x.id)}>
            {x.own ? `${x.name} (yours)` : x.name}
          </Act>
        ))}
        {list.length === 0 && <Text p="2">Nothing on the shelf is called that.</Text>}
      </Box>
      {item && (
        <Box mt="2">
          <Text fontWeight="600">{item.name}</Text>
          <Flex gap="3" wrap="wrap">
            {item.figures.map((f) => (
              <Box key={f.key}>
                <Text textStyle="label">{f.label}</Text>
                <Text>{show(f.value, f.quantity, prefs).text}</Text>
              </Box>
            ))}
          </Flex>
          <Act mt="2" tone="choice" disabled={busy || item.name === now} onClick={() => take(item.id)}>
            {item.name === now ? 'Fitted' : `Take ${item.name}`}
          </Act>
        </Box>
      )}
    </Box>
  )
}

export interface FieldProps {
  field: FieldOut
  path: string
  value: unknown
  set: (path: string, next: (now: unknown) => unknown) => void // next: of the value as it is when it is sent
  prefs: Parameters<typeof ValueField>[0]['prefs']
}

const same = (a: FieldProps, b: FieldProps) =>
  a.field === b.field && a.path === b.path && a.prefs === b.prefs && a.set === b.set && JSON.stringify(a.value) === JSON.stringify(b.value)

/** A field draws itself again only when its own value moved: a long form must not slow a key press. */
export const OneField = memo(function OneField(props: FieldProps) {
  const { field, value, set, prefs, path } = props
  if (field.kind === 'number') return <ValueField field={field} value={value as ValueDoc | null} set={(next) => set(path, (now) => next(now as ValueDoc | null))} prefs={prefs} />
  if (field.kind === 'part') return <Inner path={props.path} field={field} />
  if (field.kind === 'list') return <ListField {...props} />
  if (field.kind === 'choice' || field.kind === 'flag') return <ChoiceField {...props} />
  return <TextField {...props} />
}, same)

function Inner({ path, field }: { path: string; field: FieldOut }) {
  const { open } = useWorkshop()
  return (
    <Act my="1.5" w="100%" justifyContent="space-between" onClick={() => open({ kind: 'part', path })}>
      {field.label} <span aria-hidden="true">›</span>
    </Act>
  )
}

function ChoiceField({ field, value, set, path }: FieldProps) {
  const options = field.kind === 'flag' ? ['unknown', 'yes', 'no'] : field.options
  const now = field.kind === 'flag' ? (value === null ? 'unknown' : value ? 'yes' : 'no') : String(value)
  const pick = (text: string) => set(path, () => (field.kind === 'flag' ? (text === 'unknown' ? null : text === 'yes') : text))
  return (
    <Field.Root>
      <Field.Label>{field.label}</Field.Label>
      <NativeSelect.Root>
        <NativeSelect.Field value={now} onChange={(e) => pick(e.target.value)}>
          {options.map((o) => (
            <option key={o} value={o}>
              {o.replaceAll('_', ' ')}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {field.help && <Field.HelperText>{field.help}</Field.HelperText>}
    </Field.Root>
  )
}

const pairsText = (value: unknown): string => ((value as [number, number][]) ?? []).map(([x, y]) => `${x} ${y}`).join('\n')

function parsePairs(text: string): [number, number][] | null {
  const rows = text.split('\n').map((r) => r.trim()).filter(Boolean)
  const out = rows.map((r) => r.replace(/,/g, '.').split(/[\s;]+/).map(Number))
  return out.every((p) => p.length === 2 && p.every(Number.isFinite)) ? (out as [number, number][]) : null
}

/** Text, whole numbers and curves: kept on leaving the field. */
function TextField({ field, value, set, path }: FieldProps) {
  const curve = field.kind === 'curve' || field.kind === 'outline'
  const shown = (what: unknown) => (curve ? pairsText(what) : what === null ? '' : String(what))
  const now = shown(value)
  const [draft, setDraft, keptBy] = useDraft(now)
  const typed = draft ?? now
  const wrong = draft !== null && error(field, draft)
  const waits = draft !== null && draft !== now // also where it was sent and not taken
  const help = waits ? 'not kept yet' : field.help
  const commit = (still: string | null): string | null => {
    if (draft === null || draft === still) return now
    if (wrong) return null
    const becomes = curve ? parsePairs(draft) : field.kind === 'count' ? (draft.trim() ? Number(draft) : null) : draft
    set(path, () => becomes)
    return shown(becomes)
  }
  const keep = keptBy(commit)
  const common = {
    value: typed,
    onChange: (e: { target: { value: string } }) => setDraft(e.target.value),
    onFocus: keep.onFocus,
    onBlur: keep.onBlur,
    borderColor: wrong ? 'stop' : waits ? 'choice' : undefined,
  }
  return (
    <Field.Root invalid={!!wrong}>
      <Field.Label>{field.label}</Field.Label>
      {curve || field.name === 'note' ? (
        <Textarea h="auto" rows={curve ? 5 : 2} {...common} />
      ) : (
        <Input {...common} placeholder={field.kind === 'count' ? 'unknown' : ''} inputMode={field.kind === 'count' ? 'numeric' : 'text'} onKeyDown={keep.onKeyDown} />
      )}
      {wrong ? <Field.ErrorText role="alert">{wrong}</Field.ErrorText> : help && <Field.HelperText color={waits ? 'choice' : undefined}>{help}</Field.HelperText>}
    </Field.Root>
  )
}

function error(field: FieldOut, draft: string): string {
  if (field.kind === 'curve' || field.kind === 'outline') return parsePairs(draft) ? '' : 'one pair of numbers a line'
  if (field.kind !== 'count' || !draft.trim()) return ''
  const n = Number(draft)
  if (!Number.isInteger(n)) return `'${draft.slice(0, 12)}' is not a whole number`
  if (field.lo !== null && n < field.lo) return `at least ${field.lo}`
  if (field.hi !== null && n > field.hi) return `at most ${field.hi}`
  return ''
}

function ListField({ field, path, value }: FieldProps) {
  const { fields } = useWorkshop()
  const hasName = fields[field.part]?.some((f) => f.name === 'name')
  const lines = useLines(path, hasName ? one(field.label) : null, '')
  const items = (value as Doc[]) ?? []
  if (!field.part) return null
  return (
    <Box py="1.5">
      <Text fontWeight="500">{field.label}</Text>
      {items.map((item, i) => (
        <Act key={i} w="100%" justifyContent="space-between" mb="1" onClick={() => lines.open(i)}>
          <Wrapped>{rowWords(item, i)}</Wrapped>
          <span aria-hidden="true">›</span>
        </Act>
      ))}
      <Act onClick={lines.begin}>Add a line</Act>
    </Box>
  )
}

function rowWords(item: Doc, i: number): string {
  const words = [item.name, item.controller_mark, item.motor_colour, item.state].filter(Boolean).join(' · ')
  return words || `line ${i + 1}`
}

/** A row of buttons that open parts: the drawing's legend and its handles for keyboard and thumb. A
 * path that ends in ".+" adds a part to its list. */
export function PartButtons({ paths }: { paths: string[] }) {
  const { open, fields, panel, bench } = useWorkshop()
  return (
    <Flex gap="2" overflowX="auto" flexShrink="0" pb="1" role="group" aria-label="Parts" tabIndex={0}>
      {paths.map((path) => {
        if (path.endsWith('.+')) return <AddPart key={path} list={path.slice(0, -2)} />
        const here = panel.kind === 'part' && panel.path === path
        const name = String((at(bench.doc, path) as Doc | undefined)?.name ?? '')
        const label = labelAt(fields, path) ?? path
        const says = name.toLowerCase().includes(label.toLowerCase())
        return (
          <Act key={path} onClick={() => open({ kind: 'part', path })} aria-pressed={here} bg={here ? 'choice-wash' : 'sheet'} maxW="field" flexShrink="0">
            <Wrapped>
              <b>{says ? name : label}</b> {says ? '' : name}
            </Wrapped>
          </Act>
        )
      })}
    </Flex>
  )
}

/** Put one more part of its kind into a list of the build, and open it. */
export function AddPart({ list, tone }: { list: string; tone?: 'choice' }) {
  const { fields } = useWorkshop()
  const word = one(specAt(fields, list)?.label ?? list)
  const lines = useLines(list, word)
  return (
    <Act tone={tone} flexShrink="0" onClick={lines.begin}>
      Add a {word.toLowerCase()}
    </Act>
  )
}
