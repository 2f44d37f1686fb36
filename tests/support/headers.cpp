// For the precompiled headers of the tests, which a target must own.
int main() {}
