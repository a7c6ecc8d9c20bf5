//! Metrics (opentelemetry/proto/metrics/v1): a line for each measured point, with its number under
//! the metric's name, so that it is a value like one that the program prints.

use super::signal::Signal;
use super::value::{all, attribute, line, others, words};
use super::wire::{self, Kind, Schema};
use serde_json::Value;

pub(super) static SIGNAL: Signal = Signal {
    path: "/v1/metrics",
    request: "ExportMetricsServiceRequest",
    schema: &[(1, "resourceMetrics", Kind::Many(RESOURCE))],
    lines,
};

const RESOURCE: &Schema =
    &[(1, "resource", Kind::One(wire::RESOURCE)), (2, "scopeMetrics", Kind::Many(SCOPE))];
const SCOPE: &Schema = &[(1, "scope", Kind::One(wire::SCOPE)), (2, "metrics", Kind::Many(METRIC))];
const METRIC: &Schema = &[
    (1, "name", Kind::Text),
    (5, "gauge", Kind::One(NUMBERS)),
    (7, "sum", Kind::One(NUMBERS)),
    (9, "histogram", Kind::One(HISTOGRAM)),
    (10, "exponentialHistogram", Kind::One(EXPONENTIAL)),
    (11, "summary", Kind::One(SUMMARY)),
];
const NUMBERS: &Schema = &[(1, "dataPoints", Kind::Many(NUMBER))];
const NUMBER: &Schema = &[
    (7, "attributes", Kind::Attributes),
    (3, "timeUnixNano", Kind::Long),
    (4, "asDouble", Kind::Double),
    (6, "asInt", Kind::Signed),
];
const HISTOGRAM: &Schema = &[(1, "dataPoints", Kind::Many(&counted(9)))];
const EXPONENTIAL: &Schema = &[(1, "dataPoints", Kind::Many(&counted(1)))];
const SUMMARY: &Schema = &[(1, "dataPoints", Kind::Many(&counted(7)))];

/// A point that counts: these messages differ in the number of their attributes' field alone.
const fn counted(attributes: u32) -> [(u32, &'static str, Kind); 4] {
    [
        (attributes, "attributes", Kind::Attributes),
        (3, "timeUnixNano", Kind::Long),
        (4, "count", Kind::Long),
        (5, "sum", Kind::Double),
    ]
}

/// What may be measured, as the standard calls it.
const MEASURED: [&str; 5] = ["gauge", "sum", "histogram", "exponentialHistogram", "summary"];

fn lines(told: &Value) -> String {
    let mut lines = String::new();
    for resource in all(&told["resourceMetrics"]) {
        let app = attribute(&resource["resource"]["attributes"], "service.name");
        let metrics = all(&resource["scopeMetrics"]).flat_map(|scope| all(&scope["metrics"]));
        for metric in metrics {
            let points = MEASURED.iter().flat_map(|kind| all(&metric[*kind]["dataPoints"]));
            for point in points {
                lines += &line_of(metric, point, app.clone()).unwrap_or_default();
            }
        }
    }
    lines
}

/// The line of a point; `None` where it holds no number.
fn line_of(metric: &Value, point: &Value, app: Option<Value>) -> Option<String> {
    // Points of one metric are told apart by their attributes.
    let of =
        others(&point["attributes"], &[]).map_or(String::new(), |a| format!(" ({})", words(&a)));
    let name = format!("{}{of}", metric["name"].as_str().filter(|n| !n.is_empty())?);
    let numbers = match number(&point["asDouble"]).or_else(|| number(&point["asInt"])) {
        Some(value) => vec![(name, Some(value))],
        None => {
            let part = |part: &str| (format!("{name} {part}"), number(&point[part]));
            vec![part("count"), part("sum")]
        }
    };
    numbers.iter().any(|(_, value)| value.is_some()).then_some(())?;
    let head = [
        ("time".to_owned(), point.get("timeUnixNano").cloned()),
        ("level".to_owned(), Some("debug".into())),
        ("app".to_owned(), app),
    ];
    Some(line(head.into_iter().chain(numbers)))
}

/// A number, which the standard's JSON writes as a text where it has 64 bits.
fn number(value: &Value) -> Option<Value> {
    match value {
        Value::Number(_) => Some(value.clone()),
        Value::String(text) => text.parse::<i64>().ok().map(Value::from),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::lines;
    use serde_json::json;

    #[test]
    fn points_are_told_by_the_name_of_their_metric_and_what_tells_them_apart() {
        let quay = json!([{"key": "quay", "value": {"stringValue": "north"}}]);
        let metrics = json!([
            {"name": "seats.free", "gauge": {"dataPoints": [
                {"asInt": "4", "attributes": quay}, {"asDouble": 2.5}, {"flags": 1}]}},
            {"name": "wait", "histogram": {"dataPoints": [{"count": "3", "sum": 7.5}]}},
            {"gauge": {"dataPoints": [{"asInt": "1"}]}},
        ]);
        let told = json!({"resourceMetrics": [{"scopeMetrics": [{"metrics": metrics}]}]});
        assert_eq!(
            lines(&told),
            "{\"level\":\"debug\",\"seats.free (quay north)\":4}\n\
             {\"level\":\"debug\",\"seats.free\":2.5}\n\
             {\"level\":\"debug\",\"wait count\":3,\"wait sum\":7.5}\n"
        );
        assert_eq!(lines(&json!([3])), "");
    }
}
