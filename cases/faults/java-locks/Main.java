import java.util.ArrayList;
import java.util.List;

public class Main {
    public static void main(String[] args) throws Exception {
        Keeper keeper = new Keeper("Oda");
        List<Lock> locks = new ArrayList<>();
        locks.add(new Lock("upper", 3));
        locks.add(new Lock("middle", 2));
        locks.add(new Lock("lower", 4));
        Plan plan = Plan.read("plan.properties");
        for (String name : plan.order()) {
            Lock lock = find(locks, name);
            keeper.open(lock, plan.minutes(name));
            System.out.println(lock.describe());
        }
        System.out.println(keeper.report());
    }

    static Lock find(List<Lock> locks, String name) {
        for (Lock lock : locks) {
            if (lock.name.equals(name)) {
                return lock;
            }
        }
        return null;
    }
}
