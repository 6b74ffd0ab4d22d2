import { NativeSelect } from '@chakra-ui/react'
import type { LogRow } from '../api/client'

/** One of the build's logs. none: what stands for no log; without it there is always one. */
export function LogPick(props: { label: string; logs: LogRow[]; value: string; pick: (id: string) => void; none?: string; w?: string; disabled?: boolean }) {
  return (
    <NativeSelect.Root w={props.w ?? '260px'} disabled={props.disabled}>
      <NativeSelect.Field aria-label={props.label} h="44px" value={props.value} onChange={(e) => props.pick(e.target.value)}>
        {props.none !== undefined && <option value="">{props.none}</option>}
        {props.logs.map((l) => (
          <option key={l.id} value={l.id}>
            {l.name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
