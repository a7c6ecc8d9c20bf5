public class Lock {
    final String name;
    private final int[] levels;
    private Gate gate;

    Lock(String name, int steps) {
        this.name = name;
        this.levels = new int[steps];
        this.gate = new Gate();
    }

    void fill(int minutes) {
        for (int i = 0; i < levels.length; i++) {
            levels[i] = levels[i] + minutes * (i + 1);
        }
        gate.swing();
    }

    int level() {
        int sum = 0;
        for (int level : levels) {
            sum += level;
        }
        return sum;
    }

    String describe() {
        return name.toUpperCase() + " at " + level() + ", gate " + gate.state();
    }
}
