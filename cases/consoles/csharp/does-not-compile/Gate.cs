class Gate {
    static void Main() {
        int seats = "twelve";
        System.Console.WriteLine(seets);
    }
}
