package ferry;

import java.util.List;
import java.util.Map;

/** The names of all routes, for the sign on the bank. */
public final class RouteBook {
    String names(List<Map<String, String>> routes) {
        String all = "";
        for (Map<String, String> route : routes) {
            all = all + route.get("name") + " ";
        }
        return all;
    }
}
