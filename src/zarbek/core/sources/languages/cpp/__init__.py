"""C and C++. Sources: ISO/IEC 9899:2018 (C17), ISO/IEC 14882:2020 (C++20)."""
