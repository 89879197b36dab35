package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.algebra.Glob;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Doing;
import warden.core.pipeline.Doing.Filter;
import warden.core.pipeline.Target;
import warden.core.pipeline.Term;

/**
 * Understands calls of the first provider's official command line. Source: AWS CLI Command Reference, "s3", "s3api", "cloudfront", "sts",
 * "configure".
 */
final class ProviderCommands {
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

    private final Surroundings surroundings;

    ProviderCommands(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    /**
     * Returns what a call does; empty when it only chooses a credential.
     *
     * @param arguments those after the program's name
     */
    List<Doing> read(List<Term> arguments, int line) {
        CommandLine command = CommandLine.of(arguments, FLAGS);
        List<Term> rest = command.rest();
        if (rest.isEmpty() || command.has("--dryrun")) {
            return List.of(new Doing.Nothing());
        }
        String service = rest.get(0).text();
        String operation = rest.size() > 1 ? rest.get(1).text() : "";
        if (command.has("--no-sign-request")) {
            return List.of(new Doing.Nothing());
        }
        return switch (service) {
            case "s3" -> List.of(storage(operation, command, rest.subList(Math.min(2, rest.size()), rest.size())));
            case "s3api" -> List.of(storageCall(operation, command));
            case "cloudfront" -> List.of(edge(operation, command, rest));
            case "sts" -> session(operation, command, line);
            case "configure" -> configure(operation, rest, line);
            default -> List.of(other(service, operation));
        };
    }

    private Doing storage(String operation, CommandLine command, List<Term> places) {
        if (!STORAGE_SOURCE.contains(operation)) {
            return new Doing.NotUnderstood("the storage command \"" + operation + "\" is not known");
        }
        Optional<Target> first = place(places, 0);
        Optional<Target> second = place(places, 1);
        boolean many = operation.equals("sync") || command.has("--recursive");
        switch (operation) {
            case "rm":
                return first.<Doing>map(target -> new Doing.Remove(target, many))
                        .orElseGet(ProviderCommands::noPlace);
            case "ls":
                return new Doing.Call(
                        first.isPresent() ? "s3:ListBucket" : "s3:ListAllMyBuckets",
                        first.map(target -> arn(target.bucket(), Term.of(""))).orElse(Term.of("*")),
                        Optional.empty());
            case "mb", "rb", "website":
                String action =
                        switch (operation) {
                            case "mb" -> "s3:CreateBucket";
                            case "rb" -> "s3:DeleteBucket";
                            default -> "s3:PutBucketWebsite";
                        };
                return first.<Doing>map(
                                target -> new Doing.Call(action, arn(target.bucket(), Term.of("")), Optional.empty()))
                        .orElseGet(ProviderCommands::noPlace);
            case "presign":
                return new Doing.Nothing();
            default:
                break;
        }
        if (places.size() < 2) {
            return noPlace();
        }
        if (first.isPresent()) {
            return new Doing.Fetch(first.get(), second, many, operation.equals("mv"));
        }
        if (second.isEmpty()) {
            // Both could be variables that hold a place in storage.
            return new Doing.NotUnderstood("it does not say where it uploads to");
        }
        boolean isSync = operation.equals("sync");
        Term source = places.get(0);
        return new Doing.Upload(
                source,
                second.get(),
                many,
                isSync,
                isSync && command.has("--delete"),
                command.text("--acl").or(() -> publicGrant(command)),
                command.text("--cache-control"),
                filters(command),
                isArchive(source.text()) && !many ? Optional.of(false) : Optional.empty(),
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
                        .map(Term::text)
                        .anyMatch(grant -> grant.contains("global/AllUsers"))
                ? Optional.of("public-read")
                : Optional.empty();
    }

    private static List<Filter> filters(CommandLine command) {
        List<Filter> filters = new ArrayList<>();
        command.order().forEach(option -> {
            if (option.getKey().equals("--exclude") || option.getKey().equals("--include")) {
                filters.add(new Filter(
                        option.getKey().equals("--include"),
                        Glob.parse(option.getValue().text())));
            }
        });
        return filters;
    }

    static boolean isArchive(String name) {
        return name.toLowerCase(Locale.ROOT).matches(".*\\.(zip|tar|tgz|tar\\.(gz|bz2|xz)|7z|rar)");
    }

    private static Doing noPlace() {
        return new Doing.NotUnderstood("it names no place in storage that the file tells");
    }

    private static Optional<Target> place(List<Term> places, int index) {
        return index < places.size() && Target.isTarget(places.get(index))
                ? Optional.of(Target.parse(places.get(index)))
                : Optional.empty();
    }

    static Term arn(Term bucket, Term key) {
        Term arn = Term.of("arn:aws:s3:::").then(bucket);
        return key.text().isEmpty() ? arn : arn.then(Term.of("/")).then(key);
    }

    private static Doing storageCall(String operation, CommandLine command) {
        Optional<Term> bucket = command.value("--bucket");
        Term key = command.value("--key").orElse(Term.of(""));
        if (operation.equals("put-object") && bucket.isPresent()) {
            Term source = command.value("--body").orElse(Term.of(""));
            return new Doing.Upload(
                    source,
                    new Target(bucket.get(), key),
                    false,
                    false,
                    false,
                    command.text("--acl"),
                    command.text("--cache-control"),
                    List.of(),
                    isArchive(source.text()) ? Optional.of(false) : Optional.empty(),
                    encryption(command));
        }
        if ((operation.equals("delete-object") || operation.equals("delete-objects")) && bucket.isPresent()) {
            return new Doing.Remove(new Target(bucket.get(), key), false);
        }
        if (operation.equals("get-object") && bucket.isPresent()) {
            return new Doing.Fetch(new Target(bucket.get(), key), Optional.empty(), false, false);
        }
        if (operation.equals("copy-object")
                && bucket.isPresent()
                && command.value("--copy-source").isPresent()) {
            return new Doing.Fetch(
                    Target.ofPath(command.value("--copy-source").get()),
                    Optional.of(new Target(bucket.get(), key)),
                    false,
                    false);
        }
        if (operation.equals("wait")) {
            return new Doing.Nothing();
        }
        String action = STORAGE_ACTIONS.getOrDefault(operation, "s3:" + camelCase(operation));
        Optional<ServiceAction> known = ActionCatalogue.shipped().named(action);
        if (known.isEmpty()) {
            return new Doing.NotUnderstood("which permission \"s3api " + operation + "\" takes is not known");
        }
        boolean onObject = known.get().resourceType().equals("object");
        Term whole = onObject && key.text().isEmpty() ? Term.of("*") : key;
        return new Doing.Call(
                known.get().name(),
                bucket.map(name -> arn(name, onObject ? whole : Term.of(""))).orElse(Term.of("*")),
                command.text("--acl"));
    }

    private static Doing edge(String operation, CommandLine command, List<Term> rest) {
        Optional<Term> id = command.value("--distribution-id").or(() -> command.value("--id"));
        if (operation.equals("create-invalidation")) {
            return new Doing.Invalidate(id.orElse(Term.open("?", "the distribution")), false);
        }
        if (operation.equals("wait")) {
            boolean invalidation = rest.size() > 2 && rest.get(2).text().equals("invalidation-completed");
            return new Doing.Call(
                    invalidation ? "cloudfront:GetInvalidation" : "cloudfront:GetDistribution",
                    id.map(term -> Term.of("distribution/").then(term)).orElse(Term.of("*")),
                    Optional.empty());
        }
        Optional<ServiceAction> known = ActionCatalogue.shipped().named("cloudfront:" + camelCase(operation));
        return known.<Doing>map(action -> new Doing.Call(
                        action.name(),
                        action.resourceType().equals("distribution") && id.isPresent()
                                ? Term.of("distribution/").then(id.get())
                                : Term.of("*"),
                        Optional.empty()))
                .orElseGet(() -> new Doing.NotUnderstood(
                        "which permission \"cloudfront " + operation + "\" takes is not known"));
    }

    private List<Doing> session(String operation, CommandLine command, int line) {
        Optional<Term> role = command.value("--role-arn");
        if (operation.startsWith("assume-role") && role.isPresent()) {
            Kind kind = operation.equals("assume-role-with-web-identity") ? Kind.ROLE_BY_TOKEN : Kind.ROLE;
            surroundings.use(new CredentialUse(kind, role.get(), Optional.empty(), line));
            return List.of(new Doing.Nothing());
        }
        // Who one is may be asked without any permission.
        return operation.equals("get-caller-identity")
                ? List.of(new Doing.Nothing())
                : List.of(other("sts", operation));
    }

    private List<Doing> configure(String operation, List<Term> rest, int line) {
        if (operation.equals("set") && rest.size() > 3) {
            String name = rest.get(2).text();
            if (name.endsWith("aws_access_key_id")) {
                surroundings.use(new CredentialUse(Kind.ACCESS_KEY, rest.get(3), Optional.empty(), line));
            } else if (name.endsWith("role_arn")) {
                surroundings.use(new CredentialUse(Kind.ROLE, rest.get(3), Optional.empty(), line));
            }
        }
        return List.of(new Doing.Nothing());
    }

    private static Doing other(String service, String operation) {
        String prefix = service.equals("s3control") ? "s3" : service;
        return ActionCatalogue.shipped()
                .named(prefix + ":" + camelCase(operation))
                .<Doing>map(action -> new Doing.Call(action.name(), Term.of("*"), Optional.empty()))
                .orElseGet(() -> new Doing.NotUnderstood("which permission \"" + service
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
