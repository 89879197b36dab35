package warden.core.mend;

import java.util.List;
import java.util.Optional;

/**
 * A call of the provider's official command line.
 *
 * @param arguments without the program's name; {@link #FILE} within one stands for the document's file, {@link #TAG} for the version tag
 *     that was read before, and a name in braces for what an earlier step made
 * @param file the document; absent where the call takes none
 */
public record Call(List<String> arguments, Optional<String> file) {
    /** Stands for the path of the document's file. */
    public static final String FILE = "{FILE}";

    /** Stands for the version tag. */
    public static final String TAG = "{TAG}";

    public Call {
        arguments = List.copyOf(arguments);
    }

    /** A call without a document. */
    public static Call of(String... arguments) {
        return new Call(List.of(arguments), Optional.empty());
    }

    /**
     * A call that hands a document over.
     *
     * @param file JSON text
     */
    public static Call with(String file, String... arguments) {
        return new Call(List.of(arguments), Optional.of(file));
    }

    /** Returns what is called, such as {@code s3api put-bucket-policy}. */
    public String name() {
        return arguments.get(0) + " " + arguments.get(1);
    }
}
