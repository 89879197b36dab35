package warden.gather.pipeline;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Locale;

/** Names of files and folders as scripts spell them: texts, of which not each can be a path of this machine. */
public final class Folders {
    private Folders() {}

    /**
     * Returns the path of {@code name} as seen from where {@code folder} is, without needless parts.
     *
     * @param folder a path; empty for the place itself
     * @param name a path; one that begins with a slash stands for itself
     * @return the path; a dot for the place itself
     */
    static String within(String folder, String name) {
        String joined = name.startsWith("/") || folder.isEmpty() ? name : folder + "/" + name;
        Deque<String> parts = new ArrayDeque<>();
        for (String part : joined.split("/")) {
            if (part.isEmpty() || part.equals(".")) {
                continue;
            }
            if (part.equals("..") && !parts.isEmpty() && !parts.getLast().equals("..")) {
                parts.removeLast();
            } else if (!part.equals("..") || !joined.startsWith("/")) {
                parts.addLast(part);
            }
        }
        String path = String.join("/", parts);
        return joined.startsWith("/") ? "/" + path : path.isEmpty() ? "." : path;
    }

    /** True for the name of a file that packs others. */
    public static boolean isArchive(String name) {
        return name.toLowerCase(Locale.ROOT).matches(".*\\.(zip|tar|tgz|tar\\.(gz|bz2|xz)|7z|rar)");
    }

    /** Returns whether a path without needless parts is the folder, or lies in it. */
    static boolean isWithin(String folder, String path) {
        return path.equals(folder) || path.startsWith(folder.endsWith("/") ? folder : folder + "/");
    }
}
