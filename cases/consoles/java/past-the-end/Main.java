public class Main {
    static int[] planks = {3, 4, 5};

    static int plank(int at) {
        return planks[at];
    }

    public static void main(String[] args) {
        int sum = 0;
        for (int at = 0; at <= planks.length; at++) {
            sum += plank(at);
        }
        System.out.println(sum);
    }
}
