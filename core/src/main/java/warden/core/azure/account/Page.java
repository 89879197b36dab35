package warden.core.azure.account;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import warden.core.document.JsonPart;

/**
 * One page of an answer that lists something: the list itself, or an object that holds it as {@code value}.
 *
 * <p>Source: Azure REST API guidelines, "Collections".
 */
public final class Page {
    private Page() {}

    /** Returns what it lists; absent where it is no list. */
    public static Optional<List<JsonPart>> elements(JsonPart page) {
        if (page instanceof JsonPart.JsonArray array) {
            return Optional.of(array.items());
        }
        return page.find("value").filter(JsonPart.JsonArray.class::isInstance).map(JsonPart::list);
    }

    /** Returns whether it is a list, and each of its elements is named by one of these members. */
    public static boolean isWhole(JsonPart page, String... members) {
        return elements(page)
                .filter(elements -> elements.stream()
                        .allMatch(element -> Stream.of(members).anyMatch(member -> element.text(member)
                                .filter(name -> !name.isEmpty())
                                .isPresent())))
                .isPresent();
    }
}
