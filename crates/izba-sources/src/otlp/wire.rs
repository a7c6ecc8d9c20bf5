//! The messages of OTLP in protobuf (opentelemetry/proto), read straight from the wire into the
//! standard's own JSON form, as far as Izba looks at them: a schema names the fields.

use prost::DecodeError;
use prost::bytes::Buf;
use prost::encoding::{DecodeContext, WireType, decode_key, decode_varint, skip_field};
use serde_json::{Map, Value, json};
use std::cell::Cell;

/// Values in values deeper than this are not followed; the standard names no bound.
const DEPTH: u32 = 32;

/// Values of a request; each takes many times its length in memory.
const VALUES: u32 = 60_000;

/// Why a request is not read.
#[derive(Debug)]
pub(crate) enum Unread {
    /// The bytes are no message of protobuf.
    Wrong,
    /// It holds more values than fit.
    TooMuch,
}

/// What is left of the values that a request may hold.
struct Left(Cell<u32>);

impl Left {
    fn take(&self) -> Result<(), Unread> {
        let left = self.0.get().checked_sub(1).ok_or(Unread::TooMuch)?;
        self.0.set(left);
        Ok(())
    }
}

/// What the bytes of one field hold.
enum Field<'a> {
    Number(u64),
    Bytes(&'a [u8]),
}

impl<'a> Field<'a> {
    fn bytes(self) -> &'a [u8] {
        match self {
            Field::Bytes(bytes) => bytes,
            Field::Number(_) => &[],
        }
    }

    fn number(self) -> u64 {
        match self {
            Field::Number(number) => number,
            Field::Bytes(_) => 0,
        }
    }

    fn text(self) -> Value {
        String::from_utf8_lossy(self.bytes()).into()
    }
}

/// Hands each field of a message on, with its number.
fn fields<'a>(
    mut message: &'a [u8],
    mut field: impl FnMut(u32, Field<'a>) -> Result<(), Unread>,
) -> Result<(), Unread> {
    while message.has_remaining() {
        let (tag, wire) = decode_key(&mut message).map_err(wrong)?;
        match wire {
            WireType::Varint => {
                field(tag, Field::Number(decode_varint(&mut message).map_err(wrong)?))?
            }
            WireType::SixtyFourBit if message.remaining() >= 8 => {
                field(tag, Field::Number(message.get_u64_le()))?;
            }
            WireType::ThirtyTwoBit if message.remaining() >= 4 => {
                field(tag, Field::Number(message.get_u32_le().into()))?;
            }
            WireType::LengthDelimited => {
                let length = decode_varint(&mut message).map_err(wrong)?;
                let length = usize::try_from(length).ok().filter(|l| *l <= message.len());
                let Some(length) = length else { return Err(Unread::Wrong) };
                let (inner, rest) = message.split_at(length);
                message = rest;
                field(tag, Field::Bytes(inner))?;
            }
            other => {
                skip_field(other, tag, &mut message, DecodeContext::default()).map_err(wrong)?
            }
        }
    }
    Ok(())
}

fn wrong(_: DecodeError) -> Unread {
    Unread::Wrong
}

/// The fields of a message that are looked at: number, name in JSON, what it holds.
pub(super) type Schema = [(u32, &'static str, Kind)];

/// What a field holds.
#[derive(Clone, Copy)]
pub(super) enum Kind {
    Text,
    /// A small number, such as an enumeration's.
    Number,
    /// 64 bits without a sign, which are a text in JSON.
    Long,
    /// The same with a sign.
    Signed,
    Double,
    /// Bytes, as digits of base 16.
    Hex,
    /// An `AnyValue`.
    Any,
    /// Some of many `KeyValue`s.
    Attributes,
    One(&'static Schema),
    Many(&'static Schema),
}

/// A `Resource`.
pub(super) const RESOURCE: &Schema = &[(1, "attributes", Kind::Attributes)];
/// An `InstrumentationScope`.
pub(super) const SCOPE: &Schema = &[(1, "name", Kind::Text)];

/// A request of this schema as its JSON form.
///
/// # Errors
///
/// When the bytes are no message of protobuf, or hold too many values.
pub(super) fn request(bytes: &[u8], schema: &Schema) -> Result<Value, Unread> {
    message(bytes, schema, &Left(Cell::new(VALUES)))
}

fn message(bytes: &[u8], schema: &Schema, left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let mut told = Map::new();
    fields(bytes, |tag, field| {
        let Some((_, name, kind)) = schema.iter().find(|(number, ..)| *number == tag) else {
            return Ok(());
        };
        let value = match kind {
            Kind::Text => field.text(),
            Kind::Number => field.number().into(),
            Kind::Long => field.number().to_string().into(),
            Kind::Signed => (field.number() as i64).to_string().into(),
            Kind::Double => f64::from_bits(field.number()).into(),
            Kind::Hex => hex(field.bytes()).into(),
            Kind::Any => any_value(field.bytes(), DEPTH, left)?,
            Kind::Attributes => key_value(field.bytes(), DEPTH, left)?,
            Kind::One(inner) | Kind::Many(inner) => message(field.bytes(), inner, left)?,
        };
        if let Kind::Attributes | Kind::Many(_) = kind {
            let list = told.entry(*name).or_insert_with(|| Value::Array(Vec::new()));
            if let Value::Array(list) = list {
                list.push(value);
            }
        } else {
            told.insert((*name).to_owned(), value);
        }
        Ok(())
    })?;
    Ok(Value::Object(told))
}

fn key_value(bytes: &[u8], depth: u32, left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let (mut key, mut value) = (Value::from(""), Value::Null);
    fields(bytes, |tag, field| {
        match tag {
            1 => key = field.text(),
            2 => value = any_value(field.bytes(), depth, left)?,
            _ => {}
        }
        Ok(())
    })?;
    Ok(json!({ "key": key, "value": value }))
}

fn any_value(bytes: &[u8], depth: u32, left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let mut told = Value::Null;
    let Some(deeper) = depth.checked_sub(1) else { return Ok(told) };
    fields(bytes, |tag, field| {
        told = match tag {
            1 => json!({ "stringValue": field.text() }),
            2 => json!({ "boolValue": field.number() != 0 }),
            3 => json!({ "intValue": (field.number() as i64).to_string() }),
            4 => json!({ "doubleValue": f64::from_bits(field.number()) }),
            5 | 6 => {
                let mut values = Vec::new();
                fields(field.bytes(), |inner, field| {
                    if inner == 1 {
                        values.push(match tag {
                            5 => any_value(field.bytes(), deeper, left)?,
                            _ => key_value(field.bytes(), deeper, left)?,
                        });
                    }
                    Ok(())
                })?;
                let kind = if tag == 5 { "arrayValue" } else { "kvlistValue" };
                json!({ kind: { "values": values } })
            }
            7 => json!({ "bytesValue": hex(field.bytes()) }),
            _ => return Ok(()),
        };
        Ok(())
    })?;
    Ok(told)
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::otlp::logs::SIGNAL;
    use opentelemetry_proto::tonic::collector::logs::v1::ExportLogsServiceRequest;
    use opentelemetry_proto::tonic::common::v1::{
        AnyValue, ArrayValue, InstrumentationScope, KeyValue, any_value::Value as Any,
    };
    use opentelemetry_proto::tonic::logs::v1::{LogRecord, ResourceLogs, ScopeLogs};
    use opentelemetry_proto::tonic::resource::v1::Resource;
    use proptest::prelude::*;
    use prost::Message;

    const SCHEMA: &Schema = SIGNAL.schema;

    fn value(value: Any) -> Option<AnyValue> {
        Some(AnyValue { value: Some(value) })
    }

    fn attribute(key: &str, of: Any) -> KeyValue {
        KeyValue { key: key.into(), value: value(of), ..KeyValue::default() }
    }

    #[test]
    fn a_request_of_the_standards_own_messages_is_read() {
        let list = ArrayValue { values: vec![AnyValue { value: Some(Any::BoolValue(true)) }] };
        let record = LogRecord {
            time_unix_nano: 17,
            severity_number: 17,
            severity_text: "ERROR".into(),
            body: value(Any::StringValue("no seat".into())),
            attributes: vec![
                attribute("code.lineno", Any::IntValue(-12)),
                attribute("tide", Any::DoubleValue(1.5)),
                attribute("rows", Any::ArrayValue(list)),
            ],
            trace_id: vec![0xab, 1],
            ..LogRecord::default()
        };
        let scope = InstrumentationScope { name: "deck".into(), ..Default::default() };
        let resource = Resource {
            attributes: vec![attribute("service.name", Any::StringValue("ferry".into()))],
            ..Resource::default()
        };
        let logs =
            ScopeLogs { scope: Some(scope), log_records: vec![record], ..Default::default() };
        let all = ResourceLogs {
            resource: Some(resource),
            scope_logs: vec![logs],
            ..ResourceLogs::default()
        };
        let bytes = ExportLogsServiceRequest { resource_logs: vec![all] }.encode_to_vec();
        let told = request(&bytes, SCHEMA).expect("it is a message");
        insta::assert_json_snapshot!(told);
        assert!(
            request(&bytes[..bytes.len() - 3], SCHEMA).is_err(),
            "what is cut short is refused"
        );
    }

    #[test]
    fn failed_spans_and_points_of_the_standards_own_messages_become_lines() {
        use opentelemetry_proto::tonic::collector::metrics::v1::ExportMetricsServiceRequest;
        use opentelemetry_proto::tonic::collector::trace::v1::ExportTraceServiceRequest;
        use opentelemetry_proto::tonic::metrics::v1 as m;
        use opentelemetry_proto::tonic::trace::v1 as t;
        let lines = |bytes: &[u8], signal: &crate::otlp::signal::Signal| {
            (signal.lines)(&request(bytes, signal.schema).expect("it is a message"))
        };
        let status = t::Status { message: "no fare".into(), code: 2 };
        let span = t::Span {
            span_id: vec![1],
            name: "sell".into(),
            status: Some(status),
            ..Default::default()
        };
        let spans = t::ScopeSpans { spans: vec![span], ..Default::default() };
        let all = t::ResourceSpans { scope_spans: vec![spans], ..Default::default() };
        let bytes = ExportTraceServiceRequest { resource_spans: vec![all] }.encode_to_vec();
        let told = lines(&bytes, &crate::otlp::spans::SIGNAL);
        assert!(told.contains("\"message\":\"no fare\",\"spans\":[\"sell\"]"), "{told}");
        let value = Some(m::number_data_point::Value::AsInt(-4));
        let point = m::NumberDataPoint { value, ..Default::default() };
        let gauge = m::metric::Data::Gauge(m::Gauge { data_points: vec![point] });
        let counted = m::HistogramDataPoint { count: 3, sum: Some(1.5), ..Default::default() };
        let wait = m::Histogram { data_points: vec![counted], ..Default::default() };
        let metric = |name: &str, data| m::Metric {
            name: name.into(),
            data: Some(data),
            ..Default::default()
        };
        let metrics =
            vec![metric("seats", gauge), metric("wait", m::metric::Data::Histogram(wait))];
        let scope = m::ScopeMetrics { metrics, ..Default::default() };
        let all = m::ResourceMetrics { scope_metrics: vec![scope], ..Default::default() };
        let bytes = ExportMetricsServiceRequest { resource_metrics: vec![all] }.encode_to_vec();
        let told = lines(&bytes, &crate::otlp::metrics::SIGNAL);
        assert!(told.contains("\"seats\":-4"), "{told}");
        assert!(told.contains("\"wait count\":3,\"wait sum\":1.5"), "{told}");
    }

    #[test]
    fn more_values_than_fit_are_refused_before_they_take_memory() {
        // A record of nothing but attributes of no bytes: two bytes each, on the wire.
        let empty: Vec<u8> = [0x32, 0].repeat(100_000);
        let nested = |tag: u8, inner: &[u8]| {
            let mut bytes = vec![tag];
            prost::encoding::encode_varint(inner.len() as u64, &mut bytes);
            bytes.extend(inner);
            bytes
        };
        let message = nested(0x0a, &nested(0x12, &nested(0x12, &empty)));
        assert!(matches!(request(&message, SCHEMA), Err(Unread::TooMuch)));
    }

    proptest! {
        #[test]
        fn any_bytes_are_answered(bytes in prop::collection::vec(any::<u8>(), 0..200)) {
            for signal in super::super::SIGNALS {
                let _ = request(&bytes, signal.schema);
            }
        }
    }
}
