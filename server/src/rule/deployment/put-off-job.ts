import type { Job } from '../../queue/job.js'
import { PUT_OFF, type PutOffJob } from '../../queue/queue.js'
import type { PutOffService } from './put-off.service.js'

/** The table says what is due; it is looked at from time to time, as for anything that got lost. */
export const putOffJob = (service: PutOffService): Job<PutOffJob> => ({
  name: PUT_OFF,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: ({ id }) => service.begin(id),
  giveUp: ({ id }, why) => service.refuse(id, why),
  // It stays due, and is begun once that is over.
  standStill: async () => {},
  unfinished: () => service.due(),
})
