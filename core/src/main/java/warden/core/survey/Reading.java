package warden.core.survey;

import java.util.Optional;
import java.util.function.Function;

/**
 * What is known of one thing. What could not be read is a value of its own: never a null, an empty list or a default.
 *
 * @param <T> what was found
 */
public sealed interface Reading<T> {
    /** The account gave this. */
    record Found<T>(T value, Citation at) implements Reading<T> {}

    /** The account says that there is none; {@code code} is the word it said it with. */
    record Absent<T>(String code, Citation at) implements Reading<T> {}

    /** Not known: refused, failed, or never asked. */
    record Unread<T>(Need need) implements Reading<T> {}

    /** Takes the case that holds. The compiler asks for all three. */
    default <R> R fold(
            Function<Found<T>, ? extends R> found,
            Function<Absent<T>, ? extends R> absent,
            Function<Unread<T>, ? extends R> unread) {
        if (this instanceof Found<T> f) {
            return found.apply(f);
        }
        if (this instanceof Absent<T> a) {
            return absent.apply(a);
        }
        return unread.apply((Unread<T>) this);
    }

    /** Applies {@code change} to what was found; the other cases stay as they are. */
    default <R> Reading<R> map(Function<? super T, ? extends R> change) {
        return fold(
                f -> new Found<>(change.apply(f.value()), f.at()),
                a -> new Absent<>(a.code(), a.at()),
                u -> new Unread<>(u.need()));
    }

    /** Returns what was found; absent in both other cases, which the caller has told apart already. */
    default Optional<T> found() {
        return this instanceof Found<T> f ? Optional.of(f.value()) : Optional.empty();
    }

    /** Returns where the answer stands; absent when unread. */
    default Optional<Citation> citation() {
        return fold(f -> Optional.of(f.at()), a -> Optional.of(a.at()), u -> Optional.<Citation>empty());
    }

    /** Returns what would settle the question; absent when it is settled. */
    default Optional<Need> missing() {
        return this instanceof Unread<T> u ? Optional.of(u.need()) : Optional.empty();
    }

    /** True when the account said that there is none. */
    default boolean isAbsent() {
        return this instanceof Absent<T>;
    }

    /** True when nothing is known. */
    default boolean isUnread() {
        return this instanceof Unread<T>;
    }
}
