import java.util.ArrayList;
import java.util.List;

public class Till {
    private final Table table;
    private final List<Integer> sums = new ArrayList<>();

    Till(Table table) {
        this.table = table;
    }

    String sell(Ticket ticket) {
        int sum = table.fare(ticket.zone) * ticket.people;
        sums.add(sum);
        return ticket.label() + " pays " + sums.get(sums.size() - 1);
    }

    int taken() {
        int total = 0;
        for (int i = 0; i < sums.size(); i++) {
            total += sums.get(i);
        }
        return total;
    }
}
