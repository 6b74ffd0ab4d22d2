import { Box } from '@chakra-ui/react'
import { Component, type ReactNode } from 'react'
import { Act, Trouble } from './atoms'

/** What stands in for a page that broke, or whose script did not come: in words, with a way on. */
export class Mishap extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null }

  static getDerivedStateFromError(error: Error) {
    return { error }
  }

  render() {
    const { error } = this.state
    if (!error) return this.props.children
    return (
      <Box p="3">
        <Trouble text={`This page could not be shown: ${error.message || 'it did not say why'}. Nothing stored is lost.`}>
          <Act onClick={() => window.location.reload()}>Load it again</Act>
        </Trouble>
      </Box>
    )
  }
}
