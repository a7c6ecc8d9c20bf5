//! What Izba knows of a language beyond its grammar.

use crate::code::Language;

/// The names that come with a language and its libraries, divided by white space.
pub fn names_of(language: Language) -> &'static str {
    match language {
        Language::JavaScript | Language::TypeScript => {
            include_str!("../dialects/names/javascript.txt")
        }
        Language::Lua => include_str!("../dialects/names/lua.txt"),
        Language::Python => include_str!("../dialects/names/python.txt"),
        Language::Java => include_str!("../dialects/names/java.txt"),
        Language::CSharp => include_str!("../dialects/names/csharp.txt"),
        Language::Kotlin => include_str!("../dialects/names/kotlin.txt"),
        _ => "",
    }
}
