import java.util.logging.Level;
import java.util.logging.Logger;

public class Ferry {
    public static void main(String[] args) {
        Logger log = Logger.getLogger("ferry");
        log.info("ready, 0 errors");
        log.warning("low tide");
        try {
            seat(null);
        } catch (NullPointerException e) {
            log.log(Level.SEVERE, "nobody sits", e);
        }
    }

    static int seat(String name) {
        return name.length();
    }
}
