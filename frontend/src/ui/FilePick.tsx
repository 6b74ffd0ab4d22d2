import { Box } from '@chakra-ui/react'
import { useRef } from 'react'
import { useEndings } from '../api/hooks'
import { Act } from './atoms'

/** A button that opens the file dialog; the same file can be picked twice. */
export function FilePick(props: { label: string; name: string; reads: string; pick: (file: File) => void; tone?: 'plain' | 'choice'; disabled?: boolean }) {
  const accept = useEndings(props.reads)
  const input = useRef<HTMLInputElement>(null)
  return (
    <Box as="span" position="relative" display="inline-flex">
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={props.name}
        tabIndex={-1}
        style={{ position: 'absolute', width: 1, height: 1, opacity: 0 }}
        onChange={(e) => {
          const file = e.target.files?.[0]
          if (file) props.pick(file)
          e.target.value = ''
        }}
      />
      <Act tone={props.tone ?? 'plain'} disabled={props.disabled} onClick={() => input.current?.click()}>
        {props.label}
      </Act>
    </Box>
  )
}
