import { useLink } from '../api/link'
import { useWorkshop } from './bench'
import { Noted } from './atoms'

/** That the connected controller was last written for another build: its readings are judged by this one's numbers. */
export function OtherBike() {
  const { bench } = useWorkshop()
  const link = useLink().data
  if (!link?.connected || !link.last_for || link.last_for === bench.id) return null
  return (
    <Noted kind="caution" strong>
      This controller was last written for {link.last_name}. What is read or recorded here is kept under {bench.name} and judged by its numbers: open {link.last_name} if that is the bike it sits in.
    </Noted>
  )
}
