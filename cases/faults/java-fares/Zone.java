public enum Zone {
    NEAR,
    MIDDLE,
    FAR
}
