import { Box, Flex, Image, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type Picture, usePictureCall, usePictures } from '../../api/pictures'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { day } from '../../lib/when'

/** Photos of what was found at a gate: taken by the phone or picked, looked at, deleted after a second press. */
export function Photos({ place, title }: { place: string; title: string }) {
  const { bench } = useWorkshop()
  const rows = (usePictures(bench.id).data ?? []).filter((p) => p.place === place)
  const call = usePictureCall(bench.id)
  return (
    <Box mt="3">
      <Flex gap="2" wrap="wrap" align="end">
        {rows.map((p, i) => (
          <One key={p.id} p={p} label={`Photo ${i + 1} of ${title}`} remove={() => call.mutate({ remove: p.id })} />
        ))}
        <Act as="label" cursor="pointer">
          {call.isPending ? 'Keeping …' : 'Photo'}
          <input
            type="file"
            accept="image/*"
            capture="environment"
            aria-label={`Photo of ${title}`}
            style={{ position: 'absolute', opacity: 0, width: 1, height: 1 }}
            onChange={(e) => {
              const file = e.target.files?.[0]
              if (file) call.mutate({ place, file })
              e.target.value = ''
            }}
          />
        </Act>
      </Flex>
      {call.error && <Trouble text={problemText(call.error)} />}
    </Box>
  )
}

function One({ p, label, remove }: { p: Picture; label: string; remove: () => void }) {
  const { bench } = useWorkshop()
  const [asked, setAsked] = useState(false)
  const src = `/api/builds/${bench.id}/pictures/${p.id}`
  return (
    <Box>
      <a href={src} target="_blank" rel="noreferrer">
        <Image src={src} alt={label} h="figure" maxW="pick" objectFit="cover" borderWidth="hair" borderColor="rule-strong" />
      </a>
      {asked ? (
        <Act tone="choice" onClick={remove}>
          Delete it
        </Act>
      ) : (
        <Act aria-label={`Delete ${label} …`} onClick={() => setAsked(true)}>
          <Text as="span" fontSize="small">
            {day(p.at)} ✕
          </Text>
        </Act>
      )}
    </Box>
  )
}
