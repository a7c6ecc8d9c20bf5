public class Gate {
    private boolean open;
    private int turns;

    void swing() {
        open = !open;
        turns++;
    }

    String state() {
        return (open ? "open" : "shut") + " after " + turns;
    }
}
