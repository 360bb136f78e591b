import protobuf from 'protobufjs'

/** The part of OpenTelemetry's trace protocol that is read; field numbers as in opentelemetry-proto 1.x. */
const PROTO = `
syntax = "proto3";
message Request { repeated ResourceSpans resource_spans = 1; }
message ResourceSpans { repeated ScopeSpans scope_spans = 2; }
message ScopeSpans { repeated Span spans = 2; }
message Span {
  bytes trace_id = 1;
  bytes span_id = 2;
  bytes parent_span_id = 4;
  string name = 5;
  int32 kind = 6;
  fixed64 start_time_unix_nano = 7;
  fixed64 end_time_unix_nano = 8;
  repeated KeyValue attributes = 9;
  Status status = 15;
}
message Status { string message = 2; int32 code = 3; }
message KeyValue { string key = 1; AnyValue value = 2; }
message AnyValue {
  oneof value { string string_value = 1; bool bool_value = 2; int64 int_value = 3; double double_value = 4; }
}`

const request = protobuf.parse(PROTO, { keepCase: false }).root.lookupType('Request')

interface DecodedSpan {
  traceId?: string
  spanId?: string
  parentSpanId?: string
}

/** A protobuf request in the JSON form of the same protocol. @throws Error when it is no such message. */
export function decodeOtlpProto(body: Buffer): unknown {
  const decoded = request.toObject(request.decode(body), { longs: String, bytes: String }) as {
    resourceSpans?: { scopeSpans?: { spans?: DecodedSpan[] }[] }[]
  }
  const hex = (base64: string | undefined) => base64 && Buffer.from(base64, 'base64').toString('hex')
  for (const resource of decoded.resourceSpans ?? [])
    for (const scope of resource.scopeSpans ?? [])
      for (const span of scope.spans ?? []) {
        span.traceId = hex(span.traceId)
        span.spanId = hex(span.spanId)
        span.parentSpanId = hex(span.parentSpanId)
      }
  return { resourceSpans: [], ...decoded }
}
