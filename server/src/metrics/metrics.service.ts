import { Inject, Injectable } from '@nestjs/common'
import { collectDefaultMetrics, Gauge, Registry } from 'prom-client'
import { QueryTypes, Sequelize } from 'sequelize'

/** So much text of a failure is a cause; addresses and times in it would make a series of each. */
const CAUSE = 60

/** Figures of Unvelt's own running, asked of the database when somebody looks. */
@Injectable()
export class MetricsService {
  private readonly registry = new Registry()

  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {
    // Event-loop lag, memory and the like.
    collectDefaultMetrics({ register: this.registry, prefix: 'unvelt_' })
    this.gauge('unvelt_queue_age_seconds', 'Age of the oldest job that waits, by queue', 'queue', QUEUE_AGE)
    this.gauge('unvelt_queue_waiting', 'Jobs that wait, by queue', 'queue', QUEUE_WAITING)
    this.gauge('unvelt_readings_last_minute', 'Readings of the last minute, by outcome', 'outcome', READINGS)
    this.gauge('unvelt_failures_last_hour', 'Failed readings of the last hour, by cause', 'cause', FAILURES)
    this.gauge('unvelt_workers', 'Workers that were heard of lately', null, WORKERS)
    this.gauge('unvelt_sweeps', 'Sweeps that are not over, by state', 'state', SWEEPS)
  }

  text(): Promise<string> {
    return this.registry.metrics()
  }

  private gauge(name: string, help: string, label: string | null, query: string): void {
    const { sequelize } = this
    new Gauge({
      name,
      help,
      labelNames: label ? [label] : [],
      registers: [this.registry],
      async collect() {
        this.reset()
        const rows = await sequelize.query<{ label: string; value: number }>(query, { type: QueryTypes.SELECT })
        for (const { label: of, value } of rows)
          if (label) this.set({ [label]: of }, Number(value))
          else this.set(Number(value))
      },
    })
  }
}

const WAITING = `from pgboss.job where state < 'active' and start_after <= now() and name not like '\\_\\_pgboss%'`
const QUEUE_AGE = `select name label, extract(epoch from now() - min(created_on))::float8 value ${WAITING} group by name`
const QUEUE_WAITING = `select name label, count(*)::int value ${WAITING} group by name`
const READINGS = `select o.label, count(reading.id)::int value
  from (values ('read'), ('failed')) o(label) left join reading
  on read_at > now() - interval '1 minute' and (failure is null) = (o.label = 'read') group by o.label`
const FAILURES = `select left(regexp_replace(failure, '(https?://\\S+|[0-9][0-9.]*)', '…', 'g'), ${CAUSE}) label, count(*)::int value
  from reading where failure is not null and read_at > now() - interval '1 hour' group by 1 order by 2 desc limit 20`
const WORKERS = `select count(*)::int value from worker where seen_at > now() - interval '30 seconds'`
const SWEEPS = `select status label, count(*)::int value from sweep where status in ('running', 'paused') group by status`
