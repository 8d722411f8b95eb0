//! Stacks as design tokens, in the format of the Design Tokens Community Group
//! (2025.10): types `fontFamily`, `fontWeight`, `dimension`, `typography`.

use serde_json::{Map, Value, json};

use super::of_devices::DeviceStack;
use super::{Built, EntryKind};

/// The tokens of `stacks`, a group for each role.
pub fn tokens(stacks: &[Built], of_devices: &[DeviceStack]) -> Value {
    let mut roles = Map::new();
    for built in stacks {
        roles.insert(token_name(&built.role), role(built));
    }
    for stack in of_devices {
        let families: Vec<&str> = stack.stack.iter().map(|one| one.family.as_str()).collect();
        let token = json!({
            "$description": format!("Installed families for {}", stack.text_use.label()),
            "family": {"$type": "fontFamily", "$value": families},
        });
        roles.insert(token_name(&stack.role), token);
    }
    json!({ "font": roles })
}

/// Names of tokens must not start with `$`, nor hold `{`, `}` or `.`.
fn token_name(name: &str) -> String {
    let clean = name.replace(['{', '}', '.'], "-");
    clean.trim_start_matches('$').to_owned()
}

fn role(built: &Built) -> Value {
    let families: Vec<&str> = built
        .stack
        .iter()
        .map(|entry| entry.family.as_str())
        .collect();
    let weights: Vec<f32> = weights(built);
    let main_weight = weights.first().copied().unwrap_or(400.0);
    let mut weight_tokens = Map::new();
    for weight in &weights {
        weight_tokens.insert(weight.to_string(), json!({"$value": number(*weight)}));
    }
    let mut sizes = Map::new();
    let mut texts = Map::new();
    for size in &built.sizes {
        let dimension = json!({"value": number(*size), "unit": "px"});
        let name = size.to_string().replace('.', "_");
        sizes.insert(name.clone(), json!({"$value": dimension}));
        let line_height = built
            .web
            .faces
            .first()
            .map_or(1.2, |web| web.specified_line_height);
        texts.insert(
            name,
            json!({"$value": {
                "fontFamily": families,
                "fontSize": dimension,
                "fontWeight": number(main_weight),
                "letterSpacing": {"value": 0, "unit": "px"},
                "lineHeight": line_height,
            }}),
        );
    }
    let web = built
        .stack
        .iter()
        .find(|entry| entry.kind == EntryKind::Web);
    json!({
        "$description": format!(
            "{} and what stands in for it; its @font-face rules are in the style sheet",
            web.map_or("", |entry| entry.family.as_str())
        ),
        "family": {"$type": "fontFamily", "$value": families},
        "weight": with_type("fontWeight", weight_tokens),
        "size": with_type("dimension", sizes),
        "text": with_type("typography", texts),
    })
}

fn with_type(kind: &str, mut tokens: Map<String, Value>) -> Value {
    tokens.insert("$type".to_owned(), json!(kind));
    Value::Object(tokens)
}

/// The weights that the web font has or is asked for, the main one first.
fn weights(built: &Built) -> Vec<f32> {
    let mut weights: Vec<f32> = Vec::new();
    let of_stand_ins = built
        .stand_ins
        .iter()
        .flat_map(|s| s.faces.iter().map(|face| face.weight));
    for weight in of_stand_ins.chain(built.web.faces.iter().map(|web| web.face.weight)) {
        if !weights.contains(&weight) {
            weights.push(weight);
        }
    }
    weights
}

/// A number without a fraction where it has none.
fn number(value: f32) -> Value {
    if value.fract() == 0.0 {
        json!(value as i64)
    } else {
        json!(value)
    }
}
