import { lazy, Suspense, useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Typography from '@mui/material/Typography'
import type { Layer, Rule } from '../api/types'
import { Check } from '../bench/Check'
import { movedTo, SortableList } from '../bench/SortableList'
import { showRows } from '../gather/gatherState'
import { lightCondition } from '../sheet/lit'
import { symbolsOf } from '../sheet/looks'
import { drawsRows, rowsOf } from '../sheet/read'
import { startingQuery, useInk } from '../sheet/queries'
import { useChosenIn, useSheet } from '../sheet/store'
import { addRule, changeRules, copyRules, nameDataset, splitIntoRules, taking, takingOf } from './rules'
import { RuleLine } from './RuleLine'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))

/** The rules of a layer, of which a row takes the first that holds, and what becomes of the rest. */
export function RuleList({ layer }: { layer: Layer }) {
  const { ruleId, chooseRule } = useSheet()
  const { fid, also } = useChosenIn(layer.dataset)
  const chosen = fid === null ? [] : [fid, ...also]
  const [problem, setProblem] = useState<string | null>(null)
  const symbols = symbolsOf(layer)
  const header = useInk(layer).data?.header
  const { data: starting } = useQuery(startingQuery)
  const layers = useSheet((s) => s.document?.layers)
  if (!symbols) return null
  const { rules, others } = symbols
  const elsewhere = (layers ?? []).filter((other) => other.id !== layer.id && symbolsOf(other))
  const rule = rules.find((each) => each.id === ruleId)
  const set = (id: string, tag: string, values: Partial<Rule>) =>
    changeRules(layer.id, `${tag}-${id}`, (all) => all.map((each) => (each.id === id ? { ...each, ...values } : each)))
  const ids = rules.map((each) => each.id)
  const move = (moved: string, onto: string) =>
    changeRules(layer.id, 'order', (all) =>
      movedTo(ids, moved, onto).flatMap((id) => all.filter((each) => each.id === id)),
    )
  const entries = header?.key[0]?.entries ?? []
  return (
    <Box
      aria-label="Rules"
      role="group"
      sx={{
        borderRight: 1,
        borderColor: 'line',
        p: 1.5,
        overflow: 'auto',
        display: 'flex',
        flexDirection: 'column',
        gap: 0.5,
      }}
    >
      <SortableList ids={ids} onMove={move}>
        {rules.map((each) => (
          <RuleLine
            key={each.id}
            rule={each}
            count={header?.ruled[each.id] ?? null}
            chosen={each.id === ruleId}
            onChoose={() => chooseRule(each.id)}
            onPoint={() => lightCondition(layer, taking(rules, each))}
            onRows={drawsRows(layer) ? () => showRows(layer.dataset, takingOf(layer, rules, each), layer.others) : null}
            onChange={(tag, values) => set(each.id, tag, values)}
            onRemove={() => {
              if (each.id === ruleId) chooseRule(null)
              changeRules(layer.id, 'remove', (all) => all.filter((other) => other.id !== each.id))
            }}
          >
            <Suspense fallback={<Box sx={{ height: 90 }} />}>
              <ConditionEditor
                rows={rowsOf(layer)}
                value={each.where}
                label="Condition of the rule"
                replaced={each.where === starting?.nothing_yet}
                onChange={(where) => set(each.id, 'where', { where })}
                onCompare={(name, id) => nameDataset(layer.id, name, id)}
              />
            </Suspense>
          </RuleLine>
        ))}
      </SortableList>
      <Box
        component="button"
        onClick={() => chooseRule(null)}
        aria-current={!rule}
        sx={{
          font: 'inherit',
          fontSize: 13,
          textAlign: 'left',
          border: 0,
          borderLeft: 3,
          borderColor: rule ? 'transparent' : 'primary.main',
          bgcolor: rule ? 'transparent' : 'raised',
          color: 'text.primary',
          py: 0.75,
          px: 1,
          cursor: 'pointer',
        }}
      >
        {rules.length ? 'all other rows' : 'every row'}
        {rules.length > 0 && (
          <Typography component="span" variant="caption" color="text.secondary" sx={{ float: 'right' }}>
            {header?.ruled['']?.toLocaleString('en') ?? ''}
          </Typography>
        )}
      </Box>
      {rules.length > 0 && (
        <Box sx={{ pl: 1 }}>
          <Check
            label="drawn"
            checked={others === 'drawn'}
            onChange={(on) =>
              useSheet.getState().editLayer(layer.id, 'others', (draft) => {
                const own = symbolsOf(draft)
                if (own) own.others = on ? 'drawn' : 'left out'
              })
            }
          />
        </Box>
      )}
      <Button variant="outlined" onClick={() => void addRule(layer)}>
        Add a rule
      </Button>
      {chosen.length > 0 && (
        <Button
          title="Of the features chosen on the map: Shift and a press chooses one more"
          onClick={() =>
            addRule(layer, chosen)
              .then(() => setProblem(null))
              .catch((error: Error) => setProblem(error.message))
          }
        >
          {chosen.length === 1 ? 'A rule for the chosen one' : `A rule for the ${chosen.length} chosen`}
        </Button>
      )}
      {problem && chosen.length > 0 && (
        <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
          {problem}
        </Typography>
      )}
      {rules.length === 0 && entries.length > 1 && (
        <Button
          title="A rule for each entry of the key, to be changed one by one"
          onClick={() => void splitIntoRules(layer)}
        >
          Split into rules
        </Button>
      )}
      {rules.length > 0 && elsewhere.length > 0 && (
        <Select
          value=""
          displayEmpty
          renderValue={() => 'Copy them to …'}
          inputProps={{ 'aria-label': 'Copy the rules to another layer' }}
          onChange={(e) => copyRules(layer, e.target.value)}
          sx={{ fontSize: 13 }}
        >
          {elsewhere.map((other) => (
            <MenuItem key={other.id} value={other.id}>
              {other.name}
            </MenuItem>
          ))}
        </Select>
      )}
    </Box>
  )
}
