public class Main {
    public static void main(String[] args) {
        int fare = 4
        System.out.println(fare);
    }
}
