package warden.core.aws.cdn;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * Where a distribution fetches from. Source: CloudFront API Reference, Origin.
 *
 * @param storage the storage endpoint that the domain is; absent for any other host
 * @param identity the id of its origin access identity; absent when it uses none
 * @param control the id of its origin access control; absent when it uses none
 * @param headers the headers that the edge adds to each request to the origin
 * @param protocol how the edge speaks to an origin that is not a bucket's REST endpoint: {@code http-only}, {@code https-only} or
 *     {@code match-viewer}; absent for those
 */
public record Origin(
        Pointer at,
        String id,
        String domain,
        Optional<StorageEndpoint> storage,
        String path,
        Optional<String> identity,
        Optional<String> control,
        Map<String, String> headers,
        Optional<String> protocol) {
    public Origin {
        headers = Map.copyOf(headers);
    }

    static Origin parse(JsonPart part) {
        Map<String, String> headers = new LinkedHashMap<>();
        for (JsonPart header : part.list("CustomHeaders", "Items")) {
            header.text("HeaderName")
                    .ifPresent(
                            name -> headers.put(name, header.text("HeaderValue").orElse("")));
        }
        String domain = part.text("DomainName").orElse("");
        return new Origin(
                part.at(),
                part.text("Id").orElse(""),
                domain,
                StorageEndpoint.parse(domain),
                part.text("OriginPath").orElse(""),
                part.text("S3OriginConfig", "OriginAccessIdentity")
                        .map(path -> path.substring(path.lastIndexOf('/') + 1))
                        .filter(id -> !id.isEmpty()),
                part.text("OriginAccessControlId").filter(id -> !id.isEmpty()),
                headers,
                part.text("CustomOriginConfig", "OriginProtocolPolicy"));
    }

    /** Returns the name of the bucket that the origin fetches from; absent for other origins. */
    public Optional<String> bucket() {
        return storage.flatMap(StorageEndpoint::bucket);
    }

    /** True when the origin is a bucket's website endpoint. */
    public boolean isWebsite() {
        return storage.filter(StorageEndpoint::isWebsite).isPresent();
    }

    /** True when the origin is a bucket's REST endpoint. */
    public boolean isRest() {
        return storage.filter(endpoint -> !endpoint.isWebsite()).isPresent();
    }

    /** Returns the key of the object that a path (which begins with a slash) leads to, the origin path in front. */
    public String key(String decodedPath) {
        String whole = path + decodedPath;
        return whole.startsWith("/") ? whole.substring(1) : whole;
    }
}
