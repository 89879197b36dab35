package warden.gather.content;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.parser.Parser;

/** Finds what a page refers to. Source: HTML Living Standard, "Attributes" index: those whose value is a URL. */
final class HtmlFacts {
    /** By element: the attributes that load a part of the page. */
    private static final Map<String, List<String>> PARTS = Map.ofEntries(
            Map.entry("script", List.of("src")),
            Map.entry("img", List.of("src", "srcset")),
            Map.entry("source", List.of("src", "srcset")),
            Map.entry("video", List.of("src", "poster")),
            Map.entry("audio", List.of("src")),
            Map.entry("track", List.of("src")),
            Map.entry("iframe", List.of("src")),
            Map.entry("embed", List.of("src")),
            Map.entry("object", List.of("data")),
            Map.entry("input", List.of("src")),
            Map.entry("image", List.of("href", "xlink:href")),
            Map.entry("use", List.of("href", "xlink:href")));

    private static final int DEEPEST = 64;

    private HtmlFacts() {}

    static void collect(String text, Facts facts) {
        // Lines are found by looking for what was read, in the order of the page: tracking every position takes as long
        // as parsing.
        Document page = parser().parseInput(text, "");
        Places places = new Places(text);
        List<Element> elements = elements(page);
        String begin = begin(elements);
        for (Element element : elements) {
            places.next();
            element(element, facts, begin, places);
        }
    }

    /** Returns all elements in the order in which they begin. */
    private static List<Element> elements(Document page) {
        List<Element> elements = new ArrayList<>();
        page.traverse((node, depth) -> {
            if (node instanceof Element element) {
                elements.add(element);
            }
        });
        return elements;
    }

    /** Returns what the page says its addresses begin at; empty for its own place. Source: HTML Living Standard, "The base element". */
    private static String begin(List<Element> elements) {
        for (Element element : elements) {
            if (element.normalName().equals("base") && element.hasAttr("href")) {
                return element.attr("href");
            }
        }
        return "";
    }

    /**
     * Deeper elements become siblings, which refer to the same: each start tag looks through all that are open, so that the depth is a factor of
     * the time.
     */
    private static Parser parser() {
        return Parser.htmlParser().setMaxDepth(DEEPEST);
    }

    private static void element(Element element, Facts facts, String base, Places places) {
        String name = element.normalName();
        switch (name) {
            case "a", "area" -> reference(element, "href", places, false, facts, base);
            case "link" -> link(element, places, facts, base);
            case "meta" -> refresh(element, places, facts, base);
            case "style" -> CssFacts.collect(element.data(), facts, places.lineOf(element.data()), base);
            default ->
                PARTS.getOrDefault(name, List.of()).forEach(attribute -> {
                    if (attribute.equals("srcset")) {
                        sources(element, places, facts, base);
                    } else {
                        reference(element, attribute, places, true, facts, base);
                    }
                });
        }
    }

    private static void reference(
            Element element, String attribute, Places places, boolean isPart, Facts facts, String base) {
        if (element.hasAttr(attribute)) {
            facts.reference(element.attr(attribute), places.lineOf(element.attr(attribute)), isPart, base);
        }
    }

    private static void link(Element element, Places places, Facts facts, String base) {
        List<String> relations =
                List.of(element.attr("rel").toLowerCase(java.util.Locale.ROOT).split("\\s+"));
        boolean hint = relations.contains("preconnect") || relations.contains("dns-prefetch");
        boolean part = relations.contains("stylesheet")
                || relations.contains("icon")
                || relations.contains("preload")
                || relations.contains("modulepreload")
                || relations.contains("manifest");
        if (!hint) {
            reference(element, "href", places, part, facts, base);
        }
    }

    private static void refresh(Element element, Places places, Facts facts, String base) {
        String content = element.attr("content");
        int at = content.toLowerCase(java.util.Locale.ROOT).indexOf("url=");
        if (element.attr("http-equiv").equalsIgnoreCase("refresh") && at >= 0) {
            facts.reference(
                    content.substring(at + 4).replaceAll("^['\"]|['\"]$", ""), places.lineOf(content), false, base);
        }
    }

    /** Candidates are separated by commas that a blank follows or a descriptor precedes; addresses may hold commas themselves. */
    private static void sources(Element element, Places places, Facts facts, String base) {
        int line = places.lineOf(element.attr("srcset"));
        for (String candidate : element.attr("srcset").split(",\\s+")) {
            facts.reference(candidate.strip().split("\\s+")[0], line, true, base);
        }
    }

    /** Finds the lines of what stands in a page, asked in the order of the page. */
    private static final class Places {
        /** So many values that are spelled otherwise, with entities say, are looked for in vain before the positions are tracked. */
        private static final int MOST_IN_VAIN = 20;

        private final String text;
        private int at;
        private int line = 1;
        private int inVain;
        private int element = -1;
        private int[] tracked = new int[0];

        Places(String text) {
            this.text = text;
        }

        /** Goes on to the page's next element. */
        void next() {
            element++;
        }

        /** Returns the line of an attribute's value, or of an element's text; of one that is spelled otherwise in the page, about its line. */
        int lineOf(String value) {
            if (inVain >= MOST_IN_VAIN) {
                return trackedLine();
            }
            int found = text.indexOf(value, at);
            while (found > 0 && "\"'=> ".indexOf(text.charAt(found - 1)) < 0) {
                found = text.indexOf(value, found + 1);
            }
            inVain += found < 0 ? 1 : 0;
            for (; at < found; at++) {
                line += text.charAt(at) == '\n' ? 1 : 0;
            }
            return line;
        }

        /** The line in which the element begins. */
        private int trackedLine() {
            if (tracked.length == 0) {
                tracked = elements(parser().setTrackPosition(true).parseInput(text, "")).stream()
                        .mapToInt(each -> Math.max(1, each.sourceRange().start().lineNumber()))
                        .toArray();
            }
            return tracked[element];
        }
    }
}
