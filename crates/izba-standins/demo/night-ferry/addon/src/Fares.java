package ferry;

/** What a crossing costs. */
public final class Fares {
    static int fare(String route, int persons) {
        int each = 4;
        if (route.equals("mill")) {
            each = 6;
        }
        return each * persons;
    }

    String evening() {
        return "an evening for two: " + fare("mill", "two");
    }
}
