//! The messages of OTLP's logs in protobuf (opentelemetry/proto/logs/v1, common/v1), read straight
//! from the wire into the standard's own JSON form, as far as Izba looks at them.

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

/// An `ExportLogsServiceRequest` as its JSON form.
///
/// # Errors
///
/// When the bytes are no message of protobuf, or hold too many values.
pub(crate) fn request(bytes: &[u8]) -> Result<Value, Unread> {
    let left = &Left(Cell::new(VALUES));
    let mut resources = Vec::new();
    fields(bytes, |tag, field| {
        if tag == 1 {
            resources.push(resource_logs(field.bytes(), left)?);
        }
        Ok(())
    })?;
    Ok(json!({ "resourceLogs": resources }))
}

fn resource_logs(bytes: &[u8], left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let (mut attributes, mut scopes) = (Vec::new(), Vec::new());
    fields(bytes, |tag, field| {
        match tag {
            1 => fields(field.bytes(), |tag, field| {
                if tag == 1 {
                    attributes.push(key_value(field.bytes(), DEPTH, left)?);
                }
                Ok(())
            })?,
            2 => scopes.push(scope_logs(field.bytes(), left)?),
            _ => {}
        }
        Ok(())
    })?;
    Ok(json!({ "resource": { "attributes": attributes }, "scopeLogs": scopes }))
}

fn scope_logs(bytes: &[u8], left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let (mut scope, mut records) = (Map::new(), Vec::new());
    fields(bytes, |tag, field| {
        match tag {
            1 => fields(field.bytes(), |tag, field| {
                if tag == 1 {
                    scope.insert("name".into(), field.text());
                }
                Ok(())
            })?,
            2 => records.push(log_record(field.bytes(), left)?),
            _ => {}
        }
        Ok(())
    })?;
    Ok(json!({ "scope": scope, "logRecords": records }))
}

fn log_record(bytes: &[u8], left: &Left) -> Result<Value, Unread> {
    left.take()?;
    let (mut record, mut attributes) = (Map::new(), Vec::new());
    fields(bytes, |tag, field| {
        match tag {
            // Numbers of 64 bits are texts in the JSON form.
            1 => drop(record.insert("timeUnixNano".into(), field.number().to_string().into())),
            2 => drop(record.insert("severityNumber".into(), field.number().into())),
            3 => drop(record.insert("severityText".into(), field.text())),
            5 => drop(record.insert("body".into(), any_value(field.bytes(), DEPTH, left)?)),
            6 => attributes.push(key_value(field.bytes(), DEPTH, left)?),
            9 => drop(record.insert("traceId".into(), hex(field.bytes()).into())),
            11 => {
                record.insert("observedTimeUnixNano".into(), field.number().to_string().into());
            }
            _ => {}
        }
        Ok(())
    })?;
    record.insert("attributes".into(), attributes.into());
    Ok(Value::Object(record))
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
    use opentelemetry_proto::tonic::collector::logs::v1::ExportLogsServiceRequest;
    use opentelemetry_proto::tonic::common::v1::{
        AnyValue, ArrayValue, InstrumentationScope, KeyValue, any_value::Value as Any,
    };
    use opentelemetry_proto::tonic::logs::v1::{LogRecord, ResourceLogs, ScopeLogs};
    use opentelemetry_proto::tonic::resource::v1::Resource;
    use proptest::prelude::*;
    use prost::Message;

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
        let told = request(&bytes).expect("it is a message");
        insta::assert_json_snapshot!(told);
        assert!(request(&bytes[..bytes.len() - 3]).is_err(), "what is cut short is refused");
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
        assert!(matches!(request(&message), Err(Unread::TooMuch)));
    }

    proptest! {
        #[test]
        fn any_bytes_are_answered(bytes in prop::collection::vec(any::<u8>(), 0..200)) {
            let _ = request(&bytes);
        }
    }
}
