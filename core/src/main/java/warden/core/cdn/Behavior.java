package warden.core.cdn;

import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * How a distribution treats the requests for some paths. Source: CloudFront API Reference, CacheBehavior.
 *
 * @param pathPattern absent for the default behaviour
 * @param edgeFunctions the ARNs of functions that run at the edge for it
 */
public record Behavior(
        Pointer at,
        Optional<String> pathPattern,
        String originId,
        String viewerProtocol,
        List<String> methods,
        List<String> edgeFunctions) {
    public Behavior {
        methods = List.copyOf(methods);
        edgeFunctions = List.copyOf(edgeFunctions);
    }

    static Behavior parse(JsonPart part) {
        List<String> functions = java.util.stream.Stream.concat(
                        part.list("FunctionAssociations", "Items").stream()
                                .flatMap(f -> f.text("FunctionARN").stream()),
                        part.list("LambdaFunctionAssociations", "Items").stream()
                                .flatMap(f -> f.text("LambdaFunctionARN").stream()))
                .toList();
        return new Behavior(
                part.at(),
                part.text("PathPattern"),
                part.text("TargetOriginId").orElse(""),
                part.text("ViewerProtocolPolicy").orElse("allow-all"),
                part.texts("AllowedMethods", "Items"),
                functions);
    }
}
