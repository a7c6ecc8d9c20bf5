#include <cassert>

void ring(int times) {
    assert(times > 0);
}

int main() {
    ring(0);
}
