package warden.core.azure.account;

import java.util.Optional;
import warden.core.access.Truth;
import warden.core.document.JsonPart;

/**
 * The settings of an account's static website. Document names are case-sensitive.
 *
 * <p>Source: "Static website hosting in Azure Storage", "Setting up a static website"; Blob service REST API, "Set Blob Service Properties".
 *
 * @param enabled unknown where the answer does not say
 * @param index the name that is served at the root and in each folder; absent when none is set
 * @param defaultPath the path that is served at the root alone, without a leading slash; absent when none is set
 * @param error the path of the error document, without a leading slash; absent when none is set
 */
public record WebHosting(Truth enabled, Optional<String> index, Optional<String> defaultPath, Optional<String> error) {
    static WebHosting of(JsonPart part) {
        return new WebHosting(
                part.flag("enabled").map(Truth::of).orElse(Truth.UNKNOWN),
                part.text("indexDocument"),
                part.text("defaultIndexDocumentPath")
                        .filter(path -> !path.isEmpty())
                        .map(WebHosting::bare),
                part.text("errorDocument404Path")
                        .filter(path -> !path.isEmpty())
                        .map(WebHosting::bare));
    }

    private static String bare(String path) {
        return path.startsWith("/") ? path.substring(1) : path;
    }

    /** Returns the blob that is served at the root; absent when none is named. */
    public Optional<String> root() {
        return defaultPath.or(() -> index.filter(name -> !name.isEmpty()));
    }
}
