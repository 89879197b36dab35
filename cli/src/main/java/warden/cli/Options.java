package warden.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.IGetter;
import picocli.CommandLine.Model.ISetter;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/**
 * What one command takes, declared on the model of the command line's library. The library would read the same from annotations; for each kind of
 * them the JVM makes a class at each start, which takes a fifth of the time of a small command.
 *
 * <p>The names of an option stand in one string, the short one first, with a space between them. What was not given is not told, so that a default
 * is the value that whoever declares it begins with.
 */
final class Options {
    private final CommandSpec spec;

    Options(CommandSpec spec) {
        this.spec = spec;
    }

    /** Returns the command on which the options are declared. */
    CommandSpec spec() {
        return spec;
    }

    /** Says what the command is for, in one or more paragraphs. */
    void describe(String... description) {
        spec.usageMessage().description(description);
    }

    /** Declares an option without a value. */
    void flag(String names, String description, Consumer<Boolean> told) {
        add(option(names, description).type(boolean.class), told);
    }

    /** Declares an option without a value that help does not tell of. */
    void hiddenFlag(String names, String description, Consumer<Boolean> told) {
        add(option(names, description).type(boolean.class).hidden(true), told);
    }

    /** Declares an option whose value is any text. */
    void text(String names, String label, String description, Consumer<String> told) {
        add(option(names, description).paramLabel(label).type(String.class), told);
    }

    /** Declares an option whose value is any text, and without which the command does not run. */
    void neededText(String names, String label, String description, Consumer<String> told) {
        add(option(names, description).paramLabel(label).type(String.class).required(true), told);
    }

    /** Declares an option whose value is one of an enumeration's words. */
    <E extends Enum<E>> void word(String names, String label, String description, Class<E> words, Consumer<E> told) {
        add(option(names, description).paramLabel(label).type(words), told);
    }

    /** Declares an option whose value is a whole number. */
    void number(String names, String label, String description, Consumer<Integer> told) {
        add(option(names, description).paramLabel(label).type(int.class), told);
    }

    /** Declares an option whose value is a file or a folder. */
    void path(String names, String label, String description, Consumer<Path> told) {
        add(option(names, description).paramLabel(label).type(Path.class), told);
    }

    /** Declares an option that may repeat, each time with any text; all of them are told, in their order. */
    void texts(String names, String label, String description, Consumer<List<String>> told) {
        add(option(names, description).paramLabel(label).type(List.class).auxiliaryTypes(String.class), told);
    }

    /** Declares an option whose value is a list of texts with commas between them. */
    void textsByComma(String names, String label, String description, Consumer<List<String>> told) {
        add(
                option(names, description)
                        .paramLabel(label)
                        .type(List.class)
                        .auxiliaryTypes(String.class)
                        .splitRegex(","),
                told);
    }

    /** Declares an option that may repeat, each time with a file or a folder; all of them are told, in their order. */
    void paths(String names, String label, String description, Consumer<List<Path>> told) {
        add(option(names, description).paramLabel(label).type(List.class).auxiliaryTypes(Path.class), told);
    }

    /**
     * Declares the word at a place among those that are no options.
     *
     * @param arity how many there are: "1" where it has to be there, "0..1" where it may be missing
     */
    void argument(int index, String arity, String label, String description, Consumer<String> told) {
        add(positional(Integer.toString(index), arity, label, description).type(String.class), told);
    }

    /**
     * Declares all words that are no options; they are told in their order.
     *
     * @param arity how many there are, as in "0..*"
     */
    void arguments(String arity, String label, String description, Consumer<List<String>> told) {
        add(positional("0..*", arity, label, description).type(List.class).auxiliaryTypes(String.class), told);
    }

    private static OptionSpec.Builder option(String names, String description) {
        return OptionSpec.builder(names.split(" ")).description(description).hasInitialValue(false);
    }

    private static PositionalParamSpec.Builder positional(
            String index, String arity, String label, String description) {
        return PositionalParamSpec.builder()
                .index(index)
                .arity(arity)
                .required(!arity.startsWith("0"))
                .paramLabel(label)
                .description(description)
                .hasInitialValue(false);
    }

    private <T> void add(OptionSpec.Builder option, Consumer<T> told) {
        Told<T> value = new Told<>(told);
        spec.addOption(option.getter(value).setter(value).build());
    }

    private <T> void add(PositionalParamSpec.Builder argument, Consumer<T> told) {
        Told<T> value = new Told<>(told);
        spec.addPositional(argument.getter(value).setter(value).build());
    }

    /** A value that the library adds to while it reads the command line. */
    private static final class Told<T> implements IGetter, ISetter {
        private final Consumer<T> told;
        private @Nullable Object value;

        Told(Consumer<T> told) {
            this.told = told;
        }

        @Override
        @SuppressWarnings("unchecked")
        public <V> V get() {
            return (V) value;
        }

        @Override
        @SuppressWarnings("unchecked")
        public <V> V set(V now) {
            V before = (V) value;
            value = now;
            told.accept((T) now);
            return before;
        }
    }
}
