import { Box, Flex, Text } from '@chakra-ui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { http, ok } from '../api/client'
import { problemText } from '../api/hooks'
import type { components } from '../api/schema'
import { Act, Severity, Trouble } from '../ui/atoms'
import { day } from '../lib/when'

type LanState = components['schemas']['LanState']
type Offer = components['schemas']['Offer']

/** Phones in the same network: paired one by one, listed, revoked. */
export function Phones() {
  const client = useQueryClient()
  const lan = useQuery({ queryKey: ['lan'], queryFn: () => ok(http.GET('/api/lan')) as Promise<LanState>, refetchInterval: 4000, retry: 0 })
  const offer = useMutation<Offer, Error>({ mutationFn: () => ok(http.POST('/api/lan/code')) as Promise<Offer> })
  const revoke = useMutation<LanState, Error, string>({
    mutationFn: (device) => ok(http.DELETE('/api/lan/devices/{device}', { params: { path: { device } } })) as Promise<LanState>,
    onSuccess: (s) => client.setQueryData(['lan'], s),
  })
  if (!lan.data) return null // a phone itself is not told
  const { on, address, devices } = lan.data
  return (
    <Box as="section" aria-label="Phones" mt="6">
      <Text textStyle="title" fontSize="title">
        A phone at the strip
      </Text>
      {!on && (
        <Text mt="1">
          Off. Started with <code>ninebolt serve --lan</code>, the garage also answers phones in this network that you pair here.
        </Text>
      )}
      {on && (
        <>
          <Flex gap="2" mt="1" align="flex-start">
            <Severity kind="caution" size={20} />
            <Text>
              It listens at {address}. Everybody in this network can reach that address; only paired browsers are answered, and what passes is not encrypted. Use a network of your own.
            </Text>
          </Flex>
          <Act mt="2" tone="choice" disabled={offer.isPending} onClick={() => offer.mutate()}>
            Pair a phone
          </Act>
          {offer.error && <Trouble text={problemText(offer.error)} />}
          {offer.data && (
            <Flex gap="4" mt="2" align="center" wrap="wrap" role="status">
              <img alt={`Address to open on the phone: ${offer.data.url}`} src={`data:image/svg+xml;utf8,${encodeURIComponent(offer.data.qr)}`} width={210} height={210} style={{ background: '#fff' }} />
              <Box>
                <Text>Photograph this with the phone, or open {address}/pair and type</Text>
                <Text fontSize="large" fontWeight="700" letterSpacing="0.12em">
                  {offer.data.code}
                </Text>
                <Text color="ink-soft">Good once, for {Math.round(offer.data.seconds)} seconds.</Text>
              </Box>
            </Flex>
          )}
        </>
      )}
      {devices.map((d) => (
        <Flex key={d.id} gap="3" align="center" mt="1">
          <Text fontWeight="600">{d.name}</Text>
          <Text color="ink-soft">
            paired {day(d.paired_at)}
            {d.seen_s_ago !== null && d.seen_s_ago < 60 ? ', here now' : ''}
          </Text>
          <Act aria-label={`Revoke ${d.name}`} onClick={() => revoke.mutate(d.id)}>
            Revoke
          </Act>
        </Flex>
      ))}
    </Box>
  )
}
