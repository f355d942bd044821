/** The card of deliveries: asks for a new one, lists those there are. It stands in the place of the selected thing's card. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDeliveries, selectDocument } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import { DeliveryEntry } from './delivery-entry'
import { DeliveryForm } from './delivery-form'

export function DeliveriesCard() {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const deliveries = useAppSelector(selectDeliveries)
  if (!shot) return null
  return (
    <Stack spacing={1.5} sx={{ p: 1.5, overflowX: 'hidden', overflowY: 'auto', flex: 1 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="h2">Deliveries</Typography>
        <Button sx={{ mr: -0.6 }} onClick={() => dispatch(viewChanged({ screen: { instead: null } }))}>
          Close
        </Button>
      </Stack>
      <DeliveryForm shot={shot} />
      {deliveries.length === 0 ? (
        <Typography variant="caption" color="textSecondary">
          Nothing delivered yet.
        </Typography>
      ) : (
        <Stack spacing={1.5} role="list" aria-label="Deliveries">
          {deliveries.map((delivery) => (
            <DeliveryEntry key={delivery.id} {...{ shot, delivery }} />
          ))}
        </Stack>
      )}
    </Stack>
  )
}
