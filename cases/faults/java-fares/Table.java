import java.util.EnumMap;
import java.util.Map;

public class Table {
    private final Map<Zone, Integer> fares = new EnumMap<>(Zone.class);

    void add(Zone zone, int fare) {
        fares.put(zone, fare);
    }

    int fare(Zone zone) {
        return fares.get(zone);
    }
}
