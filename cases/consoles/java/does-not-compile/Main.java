public class Main {
    public static void main(String[] args) {
        int passengers = "twelve";
        System.out.println(pasengers);
    }
}
