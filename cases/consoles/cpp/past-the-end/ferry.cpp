#include <iostream>
#include <vector>

int main() {
    std::vector<int> seats{1, 2, 3};
    std::cout << "0 errors so far" << std::endl;
    std::cout << seats.at(seats.size()) << std::endl;
}
