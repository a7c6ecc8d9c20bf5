import java.io.FileReader;
import java.util.Properties;

public class Plan {
    private final Properties lines = new Properties();

    static Plan read(String file) throws Exception {
        Plan plan = new Plan();
        plan.lines.load(new FileReader(file));
        return plan;
    }

    String[] order() {
        return lines.getProperty("order").split(" ");
    }

    int minutes(String name) {
        return Integer.parseInt(lines.getProperty("minutes." + name));
    }
}
