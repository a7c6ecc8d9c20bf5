fn main() {
    let text = std::fs::read_to_string("tides.txt").expect("the tides can be read");
    println!("{text}");
}
