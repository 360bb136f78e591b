import {
  defaultTextMapGetter,
  ROOT_CONTEXT,
  SpanKind,
  SpanStatusCode,
  trace as api,
  type Span,
} from '@opentelemetry/api'
import { W3CTraceContextPropagator } from '@opentelemetry/core'
import { OTLPTraceExporter } from '@opentelemetry/exporter-trace-otlp-http'
import { resourceFromAttributes } from '@opentelemetry/resources'
import { BasicTracerProvider, BatchSpanProcessor } from '@opentelemetry/sdk-trace-base'
import type { Spans, Trace } from './trace.js'

export interface SpanTarget {
  /** Where traces are sent, for instance `http://127.0.0.1:4600/v1/traces`. */
  endpoint: string
  token?: string
}

export interface RequestSpans extends Spans {
  end(status: number, trace: Trace): void
}

/** Sends the spans of measured requests over OTLP/HTTP JSON. Visitors' requests never come here. */
export class SpanSender {
  private readonly provider: BasicTracerProvider
  private readonly propagator = new W3CTraceContextPropagator()

  constructor({ endpoint, token }: SpanTarget) {
    const exporter = new OTLPTraceExporter({
      url: endpoint,
      ...(token && { headers: { authorization: `Bearer ${token}` } }),
      timeoutMillis: 4_000,
    })
    this.provider = new BasicTracerProvider({
      resource: resourceFromAttributes({ 'service.name': 'fernhollow', 'service.version': '6.3.1' }),
      // A page has some three hundred spans; what nobody takes is dropped rather than kept.
      spanProcessors: [
        new BatchSpanProcessor(exporter, {
          scheduledDelayMillis: 250,
          maxQueueSize: 8_192,
          maxExportBatchSize: 1_024,
          exportTimeoutMillis: 5_000,
        }),
      ],
      spanLimits: { attributeValueLengthLimit: 2_000 },
    })
  }

  /** Begins the span of one measured request, below the one its `traceparent` names. */
  request(method: string, path: string, headers: Record<string, string | string[] | undefined>): RequestSpans {
    const parent = this.propagator.extract(ROOT_CONTEXT, headers, defaultTextMapGetter)
    const tracer = this.provider.getTracer('loam')
    const span: Span = tracer.startSpan(
      `${method} ${path}`,
      { kind: SpanKind.SERVER, attributes: { 'http.request.method': method, 'url.path': path } },
      parent,
    )
    return {
      tracer,
      root: api.setSpan(parent, span),
      end(status, trace) {
        span.setAttribute('http.response.status_code', status)
        span.setAttribute('unvelt.memory.peak_bytes', trace.peakHeapBytes)
        span.end()
      },
    }
  }

  /** Begins the span of work that belongs to no request, and so names the site that did it. */
  task(name: string, owner: string, site: string): Spans & { end(failed: string | null, trace: Trace): void } {
    const tracer = this.provider.getTracer('loam')
    const span = tracer.startSpan(
      name,
      { kind: SpanKind.INTERNAL, attributes: { 'unvelt.task': name, 'unvelt.addon': owner, 'unvelt.site': site } },
      ROOT_CONTEXT,
    )
    return {
      tracer,
      root: api.setSpan(ROOT_CONTEXT, span),
      end(failed, trace) {
        span.setAttribute('unvelt.memory.peak_bytes', trace.peakHeapBytes)
        if (failed !== null) span.setStatus({ code: SpanStatusCode.ERROR, message: failed })
        span.end()
      },
    }
  }

  async stop(): Promise<void> {
    await this.provider.shutdown().catch(() => {})
  }
}
