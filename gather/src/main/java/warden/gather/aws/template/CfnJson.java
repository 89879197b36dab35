package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.core.json.JsonFactory;

/**
 * Reads a template that is written in JSON. A reader of the other notation would not do: it refuses tabs, with which many indent. Source: RFC 8259.
 */
final class CfnJson {
    private static final JsonFactory FACTORY = JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(CfnFile.DEEPEST)
                    .build())
            .build();

    private final String file;
    private final JsonParser parser;

    private CfnJson(String file, JsonParser parser) {
        this.file = file;
        this.parser = parser;
    }

    /**
     * Reads a text.
     *
     * @return absent when it is no JSON
     * @throws TemplateException for a member that stands there twice
     */
    static Optional<CfnNode> read(String file, String text) throws TemplateException {
        try (JsonParser parser = FACTORY.createParser(ObjectReadContext.empty(), text)) {
            parser.nextToken();
            CfnNode root = new CfnJson(file, parser).node();
            return parser.nextToken() == null ? Optional.of(root) : Optional.empty();
        } catch (JacksonException otherNotation) {
            return Optional.empty();
        }
    }

    private CfnNode node() throws TemplateException {
        int line = parser.currentTokenLocation().getLineNr();
        return switch (parser.currentToken()) {
            case START_OBJECT -> new CfnNode(null, null, members(), line);
            case START_ARRAY -> {
                List<CfnNode> items = new ArrayList<>();
                while (parser.nextToken() != JsonToken.END_ARRAY) {
                    items.add(node());
                }
                yield new CfnNode(null, items, null, line);
            }
            case VALUE_TRUE -> new CfnNode(true, null, null, line);
            case VALUE_FALSE -> new CfnNode(false, null, null, line);
            case VALUE_NULL -> new CfnNode(null, null, null, line);
            case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT ->
                new CfnNode(CfnFile.number(parser.getString()), null, null, line);
            default -> new CfnNode(parser.getString(), null, null, line);
        };
    }

    private Map<String, CfnNode> members() throws TemplateException {
        Map<String, CfnNode> members = new LinkedHashMap<>();
        while (parser.nextToken() != JsonToken.END_OBJECT) {
            String name = parser.currentName();
            TokenStreamLocation at = parser.currentTokenLocation();
            parser.nextToken();
            if (members.putIfAbsent(name, node().at(at.getLineNr())) != null) {
                throw CfnFile.twice(file, at.getLineNr(), at.getColumnNr(), name);
            }
        }
        return members;
    }
}
