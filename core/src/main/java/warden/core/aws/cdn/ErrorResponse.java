package warden.core.aws.cdn;

import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.LatePattern;
import warden.core.document.Pointer;

/**
 * What a distribution answers instead of an origin's error. Source: CloudFront API Reference, CustomErrorResponse.
 *
 * @param page the path of the page; absent when only the caching of the error is set
 * @param status the status to send; absent for the origin's own
 */
public record ErrorResponse(Pointer at, int code, Optional<String> page, Optional<Integer> status) {
    private static final LatePattern STATUS = LatePattern.of("[0-9]{3}");

    static Optional<ErrorResponse> parse(JsonPart part) {
        Optional<Integer> code = number(part.text("ErrorCode"));
        return code.map(value -> new ErrorResponse(
                part.at(),
                value,
                part.text("ResponsePagePath").filter(path -> !path.isEmpty()),
                number(part.text("ResponseCode"))));
    }

    private static Optional<Integer> number(Optional<String> text) {
        return text.filter(digits -> STATUS.matcher(digits).matches()).map(Integer::valueOf);
    }
}
