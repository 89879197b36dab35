package warden.gather.aws.pipeline;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.StorageClients;
import warden.gather.pipeline.ToolCall;

/**
 * Understands calls of the first provider's official command line. Source: AWS CLI Command Reference, "s3", "s3api", "cloudfront", "sts",
 * "configure".
 */
final class AwsCommands {
    private static final Set<String> FLAGS = Set.of(
            "--delete",
            "--dryrun",
            "--quiet",
            "--recursive",
            "--follow-symlinks",
            "--no-follow-symlinks",
            "--no-guess-mime-type",
            "--only-show-errors",
            "--no-progress",
            "--size-only",
            "--exact-timestamps",
            "--force-glacier-transfer",
            "--ignore-glacier-warnings",
            "--human-readable",
            "--summarize",
            "--force",
            "--no-verify-ssl",
            "--no-sign-request",
            "--no-paginate",
            "--debug",
            "--no-cli-pager",
            "--no-overwrite",
            "--version");
    /** Operations of the storage service whose action has another name. */
    private static final Map<String, String> STORAGE_ACTIONS = Map.ofEntries(
            Map.entry("list-objects", "s3:ListBucket"),
            Map.entry("list-objects-v2", "s3:ListBucket"),
            Map.entry("list-object-versions", "s3:ListBucketVersions"),
            Map.entry("head-bucket", "s3:ListBucket"),
            Map.entry("head-object", "s3:GetObject"),
            Map.entry("list-buckets", "s3:ListAllMyBuckets"),
            Map.entry("copy-object", "s3:PutObject"),
            Map.entry("delete-objects", "s3:DeleteObject"),
            Map.entry("create-multipart-upload", "s3:PutObject"),
            Map.entry("complete-multipart-upload", "s3:PutObject"),
            Map.entry("upload-part", "s3:PutObject"),
            Map.entry("put-bucket-lifecycle-configuration", "s3:PutLifecycleConfiguration"),
            Map.entry("put-bucket-encryption", "s3:PutEncryptionConfiguration"),
            Map.entry("put-bucket-replication", "s3:PutReplicationConfiguration"),
            Map.entry("put-public-access-block", "s3:PutBucketPublicAccessBlock"),
            Map.entry("delete-public-access-block", "s3:PutBucketPublicAccessBlock"),
            Map.entry("delete-bucket-cors", "s3:PutBucketCORS"),
            Map.entry("delete-bucket-encryption", "s3:PutEncryptionConfiguration"),
            Map.entry("delete-bucket-lifecycle", "s3:PutLifecycleConfiguration"));

    private static final Set<String> STORAGE_SOURCE =
            Set.of("sync", "cp", "mv", "rm", "ls", "mb", "rb", "website", "presign");

    private final ToolCall call;

    AwsCommands(ToolCall call) {
        this.call = call;
    }

    /**
     * Returns what a call does; empty when it only chooses a credential.
     *
     * @param arguments those after the program's name
     */
    List<Operation> read(List<PipelineValue> arguments) {
        CommandLine command = CommandLine.of(arguments, FLAGS);
        List<PipelineValue> rest = command.rest();
        if (rest.isEmpty() || command.has("--dryrun")) {
            return List.of(new Operation.Nothing());
        }
        String service = rest.get(0).text();
        String operation = rest.size() > 1 ? rest.get(1).text() : "";
        if (command.has("--no-sign-request")) {
            return List.of(new Operation.Nothing());
        }
        return switch (service) {
            case "s3" -> List.of(storage(operation, command, rest.subList(Math.min(2, rest.size()), rest.size())));
            case "s3api" -> List.of(storageCall(operation, command));
            case "cloudfront" -> List.of(edge(operation, command, rest));
            case "sts" -> session(operation, command);
            case "configure" -> configure(operation, rest);
            default -> List.of(other(service, operation));
        };
    }

    private Operation storage(String operation, CommandLine command, List<PipelineValue> places) {
        if (!STORAGE_SOURCE.contains(operation)) {
            return new Operation.NotUnderstood("the storage command \"" + operation + "\" is not known");
        }
        Optional<Target> first = place(places, 0);
        Optional<Target> second = place(places, 1);
        boolean many = operation.equals("sync") || command.has("--recursive");
        switch (operation) {
            case "rm":
                return first.<Operation>map(target -> new Operation.Remove(target, many))
                        .orElseGet(AwsCommands::noPlace);
            case "ls":
                return new Operation.Call(
                        first.isPresent() ? "s3:ListBucket" : "s3:ListAllMyBuckets",
                        first.map(target -> arn(target.bucket(), PipelineValue.of("")))
                                .orElse(PipelineValue.of("*")),
                        Optional.empty());
            case "mb", "rb", "website":
                String action =
                        switch (operation) {
                            case "mb" -> "s3:CreateBucket";
                            case "rb" -> "s3:DeleteBucket";
                            default -> "s3:PutBucketWebsite";
                        };
                return first.<Operation>map(target -> new Operation.Call(
                                action, arn(target.bucket(), PipelineValue.of("")), Optional.empty()))
                        .orElseGet(AwsCommands::noPlace);
            case "presign":
                return new Operation.Nothing();
            default:
                break;
        }
        if (places.size() < 2) {
            return noPlace();
        }
        if (first.isPresent()) {
            return new Operation.Fetch(first.get(), second, many, operation.equals("mv"));
        }
        if (second.isEmpty()) {
            // Both could be variables that hold a place in storage.
            return new Operation.NotUnderstood("it does not say where it uploads to");
        }
        boolean isSync = operation.equals("sync");
        PipelineValue source = places.get(0);
        return new Operation.Upload(
                source,
                second.get(),
                many,
                isSync,
                isSync && command.has("--delete"),
                command.text("--acl").or(() -> publicGrant(command)),
                command.text("--cache-control"),
                StorageClients.filters(command, pattern -> pattern),
                StorageClients.extracts(source, many),
                encryption(command));
    }

    /** Returns how the command asks for encryption, by condition key. Source: AWS CLI Command Reference, "s3 sync", "s3api put-object". */
    private static Map<String, String> encryption(CommandLine command) {
        Map<String, String> carries = new HashMap<>();
        if (command.has("--sse")) {
            carries.put("s3:x-amz-server-side-encryption", command.text("--sse").orElse("AES256"));
        }
        command.text("--server-side-encryption").ifPresent(how -> carries.put("s3:x-amz-server-side-encryption", how));
        command.text("--sse-kms-key-id")
                .or(() -> command.text("--ssekms-key-id"))
                .ifPresent(key -> carries.put("s3:x-amz-server-side-encryption-aws-kms-key-id", key));
        return carries;
    }

    private static Optional<String> publicGrant(CommandLine command) {
        return command.options().getOrDefault("--grants", List.of()).stream()
                        .map(PipelineValue::text)
                        .anyMatch(grant -> grant.contains("global/AllUsers"))
                ? Optional.of("public-read")
                : Optional.empty();
    }

    private static Operation noPlace() {
        return new Operation.NotUnderstood("it names no place in storage that the file tells");
    }

    private static Optional<Target> place(List<PipelineValue> places, int index) {
        return index < places.size() && Target.isTarget(places.get(index))
                ? Optional.of(Target.parse(places.get(index)))
                : Optional.empty();
    }

    static PipelineValue arn(PipelineValue bucket, PipelineValue key) {
        PipelineValue arn = PipelineValue.of("arn:aws:s3:::").then(bucket);
        return key.text().isEmpty() ? arn : arn.then(PipelineValue.of("/")).then(key);
    }

    private static Operation storageCall(String operation, CommandLine command) {
        Optional<PipelineValue> bucket = command.value("--bucket");
        PipelineValue key = command.value("--key").orElse(PipelineValue.of(""));
        if (operation.equals("put-object") && bucket.isPresent()) {
            PipelineValue source = command.value("--body").orElse(PipelineValue.of(""));
            return new Operation.Upload(
                    source,
                    new Target(bucket.get(), key),
                    false,
                    false,
                    false,
                    command.text("--acl"),
                    command.text("--cache-control"),
                    List.of(),
                    StorageClients.extracts(source, false),
                    encryption(command));
        }
        if ((operation.equals("delete-object") || operation.equals("delete-objects")) && bucket.isPresent()) {
            return new Operation.Remove(new Target(bucket.get(), key), false);
        }
        if (operation.equals("get-object") && bucket.isPresent()) {
            return new Operation.Fetch(new Target(bucket.get(), key), Optional.empty(), false, false);
        }
        if (operation.equals("copy-object")
                && bucket.isPresent()
                && command.value("--copy-source").isPresent()) {
            return new Operation.Fetch(
                    Target.ofPath(command.value("--copy-source").get()),
                    Optional.of(new Target(bucket.get(), key)),
                    false,
                    false);
        }
        if (operation.equals("wait")) {
            return new Operation.Nothing();
        }
        String action = STORAGE_ACTIONS.getOrDefault(operation, "s3:" + camelCase(operation));
        Optional<ServiceAction> known = ActionCatalogue.shipped().named(action);
        if (known.isEmpty()) {
            return new Operation.NotUnderstood("which permission \"s3api " + operation + "\" takes is not known");
        }
        boolean onObject = known.get().resourceType().equals("object");
        PipelineValue whole = onObject && key.text().isEmpty() ? PipelineValue.of("*") : key;
        return new Operation.Call(
                known.get().name(),
                bucket.map(name -> arn(name, onObject ? whole : PipelineValue.of("")))
                        .orElse(PipelineValue.of("*")),
                command.text("--acl"));
    }

    private static Operation edge(String operation, CommandLine command, List<PipelineValue> rest) {
        Optional<PipelineValue> id = command.value("--distribution-id").or(() -> command.value("--id"));
        if (operation.equals("create-invalidation")) {
            return new Operation.Invalidate(id.orElse(PipelineValue.open("?", "the distribution")), false);
        }
        if (operation.equals("wait")) {
            boolean invalidation = rest.size() > 2 && rest.get(2).text().equals("invalidation-completed");
            return new Operation.Call(
                    invalidation ? "cloudfront:GetInvalidation" : "cloudfront:GetDistribution",
                    id.map(term -> PipelineValue.of("distribution/").then(term)).orElse(PipelineValue.of("*")),
                    Optional.empty());
        }
        Optional<ServiceAction> known = ActionCatalogue.shipped().named("cloudfront:" + camelCase(operation));
        return known.<Operation>map(action -> new Operation.Call(
                        action.name(),
                        action.resourceType().equals("distribution") && id.isPresent()
                                ? PipelineValue.of("distribution/").then(id.get())
                                : PipelineValue.of("*"),
                        Optional.empty()))
                .orElseGet(() -> new Operation.NotUnderstood(
                        "which permission \"cloudfront " + operation + "\" takes is not known"));
    }

    private List<Operation> session(String operation, CommandLine command) {
        Optional<PipelineValue> role = command.value("--role-arn");
        if (operation.startsWith("assume-role") && role.isPresent()) {
            Kind kind = operation.equals("assume-role-with-web-identity") ? Kind.ROLE_BY_TOKEN : Kind.ROLE;
            call.job().use(new CredentialUse(kind, role.get(), Optional.empty(), call.line()));
            return List.of(new Operation.Nothing());
        }
        // Who one is may be asked without any permission.
        return operation.equals("get-caller-identity")
                ? List.of(new Operation.Nothing())
                : List.of(other("sts", operation));
    }

    private List<Operation> configure(String operation, List<PipelineValue> rest) {
        if (operation.equals("set") && rest.size() > 3) {
            String name = rest.get(2).text();
            if (name.endsWith("aws_access_key_id")) {
                call.job().use(new CredentialUse(Kind.ACCESS_KEY, rest.get(3), Optional.empty(), call.line()));
            } else if (name.endsWith("role_arn")) {
                call.job().use(new CredentialUse(Kind.ROLE, rest.get(3), Optional.empty(), call.line()));
            }
        }
        return List.of(new Operation.Nothing());
    }

    private static Operation other(String service, String operation) {
        String prefix = service.equals("s3control") ? "s3" : service;
        return ActionCatalogue.shipped()
                .named(prefix + ":" + camelCase(operation))
                .<Operation>map(action -> new Operation.Call(action.name(), PipelineValue.of("*"), Optional.empty()))
                .orElseGet(() -> new Operation.NotUnderstood("which permission \"" + service
                        + (operation.isEmpty() ? "" : " " + operation) + "\" takes is not known"));
    }

    private static String camelCase(String operation) {
        StringBuilder name = new StringBuilder();
        for (String part : operation.split("-")) {
            if (!part.isEmpty()) {
                name.append(Character.toUpperCase(part.charAt(0))).append(part.substring(1));
            }
        }
        return name.toString();
    }
}
