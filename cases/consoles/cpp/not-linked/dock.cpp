int moor(int boat);

int main() {
    return moor(3);
}
