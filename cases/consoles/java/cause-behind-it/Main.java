import java.util.HashMap;
import java.util.Map;

public class Main {
    static Map<String, String> wicks = new HashMap<>();

    static int length(String name) {
        String wick = wicks.get(name);
        return wick.length();
    }

    static void light(String name) {
        try {
            System.out.println(length(name));
        } catch (NullPointerException problem) {
            throw new IllegalStateException("the lantern cannot be lit", problem);
        }
    }

    public static void main(String[] args) {
        wicks.put("ship", "braid");
        light("ship");
        light("thread");
    }
}
