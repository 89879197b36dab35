package warden.core.algebra;

import java.util.Arrays;

/** Numbers pairs of states in the order in which they are met, from 0. Open addressing, so that nothing is boxed. */
final class PairNumbers {
    private long[] slots = new long[64];
    private int[] numbers = new int[64];
    private long[] order = new long[32];
    private int size;

    PairNumbers() {
        Arrays.fill(slots, -1);
    }

    int size() {
        return size;
    }

    int left(int number) {
        return (int) (order[number] >>> 32);
    }

    int right(int number) {
        return (int) order[number];
    }

    /** Returns the pair's number; a pair that was not met before gets the next. */
    int number(int left, int right) {
        long pair = ((long) left << 32) | right;
        int slot = slot(pair);
        if (slots[slot] == pair) {
            return numbers[slot];
        }
        if (2 * (size + 1) > slots.length) {
            grow();
            slot = slot(pair);
        }
        slots[slot] = pair;
        numbers[slot] = size;
        if (size == order.length) {
            order = Arrays.copyOf(order, 2 * size);
        }
        order[size] = pair;
        return size++;
    }

    private int slot(long pair) {
        int mask = slots.length - 1;
        long mixed = pair * 0x9E3779B97F4A7C15L;
        int slot = (int) (mixed >>> 40) & mask;
        while (slots[slot] != -1 && slots[slot] != pair) {
            slot = (slot + 1) & mask;
        }
        return slot;
    }

    private void grow() {
        slots = new long[2 * slots.length];
        numbers = new int[slots.length];
        Arrays.fill(slots, -1);
        for (int i = 0; i < size; i++) {
            int slot = slot(order[i]);
            slots[slot] = order[i];
            numbers[slot] = i;
        }
    }
}
