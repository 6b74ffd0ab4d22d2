import { Box, Table } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Words that would stand as slivers on a phone: they keep a width that can be read, and the table is moved. */
const LONG = 40
export const isLong = (cell: ReactNode) => typeof cell === 'string' && cell.length > LONG

/** A plain table: heads, rows of cells, the first column to the left and the others to the right. */
export function Rows(props: { label: string; heads: string[]; rows: ReactNode[][]; left?: number[]; strong?: number }) {
  const left = new Set(props.left ?? [0])
  return (
    <Box overflowX="auto" tabIndex={0} role="region" aria-label={props.label}>
      <Table.Root size="sm" aria-label={props.label}>
        <Table.Header>
          <Table.Row bg="transparent">
            {props.heads.map((h, i) =>
              h ? (
                <Table.ColumnHeader key={h + String(i)} color="ink-soft" textAlign={left.has(i) ? 'start' : 'end'}>
                  {h}
                </Table.ColumnHeader>
              ) : (
                <Table.Cell key={i} />
              ),
            )}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {props.rows.map((cells, r) => (
            <Table.Row key={r} bg={r === props.strong ? 'choice-wash' : 'transparent'}>
              {cells.map((c, i) => (
                <Table.Cell key={i} minW={i > 0 && isLong(c) ? 'field' : undefined} textAlign={left.has(i) ? 'start' : 'end'} fontWeight={i === 0 ? '600' : '400'}>
                  {c}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
