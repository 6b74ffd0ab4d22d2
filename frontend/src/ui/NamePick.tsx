import { NativeSelect } from '@chakra-ui/react'

/** One of a list by its name: a log, a build. none: what stands for none of them; without it there is always one. */
export function NamePick(props: { label: string; rows: { id: string; name: string }[]; value: string; pick: (id: string) => void; none?: string; w?: string; disabled?: boolean }) {
  return (
    <NativeSelect.Root w={props.w ?? 'wide'} disabled={props.disabled}>
      <NativeSelect.Field aria-label={props.label} h="touch" value={props.value} onChange={(e) => props.pick(e.target.value)}>
        {props.none !== undefined && <option value="">{props.none}</option>}
        {props.rows.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
