import { Flex, NativeSelect } from '@chakra-ui/react'
import { useState } from 'react'
import { useRegisters } from '../../api/hooks'
import { useControllerKinds } from '../../api/link'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { Controller } from './Controller'
import { Curve } from './Curve'
import { Identify } from './Identify'
import { Live } from './Live'
import { Packs } from './Packs'
import { Record } from './Record'
import { Values } from './Values'

export function Tune() {
  const { bench } = useWorkshop()
  const d = bench.assessment.drawings.tune
  const forms = useRegisters().data?.parameters ?? []
  const stops = bench.assessment.bolts.flatMap((b) => b.findings.filter((f) => f.severity === 'stop'))
  const [known, setKnown] = useState(false)
  const kinds = useControllerKinds().data ?? []
  const [kind, setKind] = useState('')
  const file = (form: string) => `/api/builds/${bench.id}/parameters?kind=${form}${kind ? `&controller=${kind}` : ''}${stops.length ? '&anyway=true' : ''}`
  const ready = !!d?.thrust_n.length && (stops.length === 0 || known)
  const links = (
    <Flex gap="2" wrap="wrap" align="center">
      {d && stops.length > 0 && (
        <Act aria-pressed={known} bg={known ? 'choice-wash' : 'sheet'} onClick={() => setKnown(!known)}>
          {stops.length} stop{stops.length > 1 ? 's stand' : ' stands'}: {known ? 'taken all the same, the file says so' : 'take it all the same?'}
        </Act>
      )}
      {kinds.length > 1 && (
        <NativeSelect.Root w="field">
          <NativeSelect.Field aria-label="For which controller" value={kind} onChange={(e) => setKind(e.target.value)}>
            {kinds.map((k, i) => (
              <option key={k.key} value={i === 0 ? '' : k.key}>
                for {k.name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      {forms.map(({ key, label }) => (
        <Act key={key} asChild disabled={!ready}>
          <a href={ready ? file(key) : undefined} download>
            {label}
          </a>
        </Act>
      ))}
    </Flex>
  )
  return (
    <Workbench parts={['drive.controller', 'drive.motor', 'tune']} tools={links} under={d && <Under d={d} />}>
      {d && d.thrust_n.length ? <Curve d={d} /> : <Missing />}
    </Workbench>
  )
}

type T = NonNullable<ReturnType<typeof useWorkshop>['bench']['assessment']['drawings']['tune']>

function Under({ d }: { d: T }) {
  return (
    <Tabs
      label="Behind the throttle"
      tabs={[
        { key: 'values', label: 'Values', body: <Values d={d} /> },
        { key: 'controller', label: 'Controller', body: <Controller /> },
        { key: 'live', label: 'Live', body: <Live /> },
        { key: 'identify', label: 'Identify', body: <Identify /> },
        { key: 'packs', label: 'Packs and purposes', body: <Packs /> },
        { key: 'record', label: 'Record', body: <Record /> },
      ]}
    />
  )
}
