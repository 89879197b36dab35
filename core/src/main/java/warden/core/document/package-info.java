/**
 * Parses JSON documents and keeps where each part stood in them. Judges nothing.
 * Who may enter: every room of the core. It may itself enter no other room.
 */
@NullMarked
package warden.core.document;

import org.jspecify.annotations.NullMarked;
