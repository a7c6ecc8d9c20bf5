fn seat(of: &[&str], number: usize) -> String {
    of[number].to_string()
}

fn main() {
    let names = ["first", "second"];
    println!("no errors yet");
    println!("{}", seat(&names, names.len()));
}
