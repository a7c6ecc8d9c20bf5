package ferry;

/** How deep the water is at a tide, in metres. */
public final class TideDepth {
    int depth(String tide) {
        switch (tide) {
            case "ebb":
                return 1;
            case "slack":
                return 2;
            case "flood":
                return 3;
            default:
                throw new IllegalStateException("no depth is listed for the tide " + tide);
        }
    }
}
