#include <string>

int depth(int tide) {
    int spare = 3;
    return tide + marsh;
}

std::string name() {
    return 4
}
