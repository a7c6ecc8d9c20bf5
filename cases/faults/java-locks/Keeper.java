import java.util.HashMap;
import java.util.Map;

public class Keeper {
    private final String name;
    private final Map<String, Integer> worked = new HashMap<>();

    Keeper(String name) {
        this.name = name;
    }

    void open(Lock lock, int minutes) {
        lock.fill(minutes);
        worked.put(lock.name, worked.getOrDefault(lock.name, 0) + minutes);
    }

    String report() {
        int sum = 0;
        for (int minutes : worked.values()) {
            sum += minutes;
        }
        return name + " worked " + sum;
    }
}
