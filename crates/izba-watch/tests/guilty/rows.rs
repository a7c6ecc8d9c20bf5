//! Files of data whose lines are alike but for one.

use super::{Case, hold};

#[test]
fn a_line_that_is_not_like_the_others() {
    hold(&[Case {
        kind: "rows.no-sign",
        files: r#"@@ main.lua
local fares = {}
for line in io.lines("fares.csv") do
  local parts = {}
  for part in line:gmatch("[^,]+") do
    parts[#parts + 1] = part
  end
  fares[parts[1]] = parts[2]
end
for _, quay in ipairs({ "near", "mill", "far", "spit" }) do
  print(quay .. " " .. fares[quay])
end
@@ fares.csv
near,2
mill,4
far;7
spit,9
"#,
        console: r#"near 2
mill 4
lua5.4: main.lua:10: attempt to concatenate a nil value (field '?')
stack traceback:
	main.lua:10: in main chunk
	[C]: in ?
"#,
        at: "fares.csv:3",
        edit: ("far;7", "far,7"),
    }]);
}
