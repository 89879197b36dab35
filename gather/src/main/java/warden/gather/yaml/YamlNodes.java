package warden.gather.yaml;

import java.util.Iterator;
import java.util.Optional;
import java.util.function.Function;
import org.snakeyaml.engine.v2.api.LoadSettingsBuilder;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.Node;
import warden.core.document.DisplayText;

/** Composes the nodes of a YAML text, and says in one way why a text has none, whatever the parser does about it. */
public final class YamlNodes {
    private YamlNodes() {}

    /** Why a text is no YAML that can be read: its message is a part of a sentence, without the place. */
    public static final class Malformed extends Exception {
        private static final long serialVersionUID = 1L;

        private final transient Optional<Mark> at;

        Malformed(String says, Optional<Mark> at) {
            super(says);
            this.at = at;
        }

        /** Returns where it was noticed; absent when the parser does not tell. */
        public Optional<Mark> at() {
            return at;
        }
    }

    /**
     * Composes a text of one document; absent for a text without any.
     *
     * @param what what the text should be, such as "a site file"
     * @throws Malformed also for a text of several documents
     */
    public static Optional<Node> only(String text, String what, LoadSettingsBuilder settings) throws Malformed {
        return compose(text, what, settings, yaml -> yaml.composeString(text));
    }

    /**
     * Composes the first of a text's documents; absent for a text without any.
     *
     * @param what what the text should be, such as "a pipeline"
     */
    public static Optional<Node> first(String text, String what, LoadSettingsBuilder settings) throws Malformed {
        return compose(text, what, settings, yaml -> {
            Iterator<Node> documents = yaml.composeAllFromString(text).iterator();
            return documents.hasNext() ? Optional.of(documents.next()) : Optional.empty();
        });
    }

    private static Optional<Node> compose(
            String text, String what, LoadSettingsBuilder settings, Function<Compose, Optional<Node>> documents)
            throws Malformed {
        // The whole at once: between two fillings of its buffer the reader loses a character of two parts.
        Compose yaml = new Compose(settings.setBufferSize(text.length() + 16).build());
        try {
            return documents.apply(yaml);
        } catch (MarkedYamlEngineException broken) {
            throw new Malformed(
                    "this is not valid YAML: " + DisplayText.name(String.valueOf(broken.getProblem())),
                    broken.getProblemMark());
        } catch (YamlEngineException broken) {
            throw new Malformed(
                    "this is not valid YAML: " + DisplayText.name(String.valueOf(broken.getMessage())),
                    Optional.empty());
        } catch (IndexOutOfBoundsException cut) {
            // The parser looks beyond the end of some texts.
            throw new Malformed("this is not valid YAML", Optional.empty());
        } catch (StackOverflowError tooDeep) {
            throw new Malformed("it is nested too deep for " + what, Optional.empty());
        }
    }
}
