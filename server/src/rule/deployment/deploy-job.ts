import type { Job } from '../../queue/job.js'
import { DEPLOY, type DeployJob } from '../../queue/queue.js'
import { endDeployment, type DeploymentTools } from './deployment-case.js'
import { openDeployments, runDeployment } from './run-deployment.js'

export const deployJob = (tools: DeploymentTools): Job<DeployJob> => ({
  name: DEPLOY,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runDeployment(tools, job, hold),
  giveUp: ({ id }, why) => endDeployment(tools.sequelize, id, why),
  // A change is never left where it is: it is found again, and goes on.
  standStill: async () => {},
  unfinished: () => openDeployments(tools.sequelize),
})
