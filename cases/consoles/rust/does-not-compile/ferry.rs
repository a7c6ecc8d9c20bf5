use std::collections::HashMap;

fn seats(boat: u32) -> u32 {
    boat + "two"
}

fn main() {
    println!("{}", seatz(3));
}
