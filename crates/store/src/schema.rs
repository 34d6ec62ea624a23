//! The tables, as the migrations make them.
#![allow(missing_docs)]

diesel::table! {
    pieces (id) {
        id -> Text,
        head -> Integer,
        created_at -> BigInt,
        changed_at -> BigInt,
        deleted_at -> Nullable<BigInt>,
        name -> Text,
        size -> Nullable<Text>,
        picture -> Nullable<Text>,
        pictured -> Nullable<Integer>,
        drawer -> Nullable<Text>,
        uses_known -> Bool,
        plain -> Nullable<Text>,
        longest -> Nullable<Double>,
        printer -> Nullable<Text>,
    }
}

diesel::table! {
    revisions (piece_id, number) {
        piece_id -> Text,
        number -> Integer,
        document -> Text,
        gesture -> Nullable<Text>,
    }
}

diesel::table! {
    steps (piece_id, number) {
        piece_id -> Text,
        number -> Integer,
        author -> Text,
        created_at -> BigInt,
        act -> Text,
        step -> Nullable<Integer>,
        base -> Integer,
        gesture -> Nullable<Text>,
        superseded_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    piece_uses (piece_id, thing) {
        piece_id -> Text,
        thing -> Text,
    }
}

diesel::table! {
    requests (id) {
        id -> Text,
        made -> Text,
        added -> Nullable<Text>,
        created_at -> BigInt,
    }
}

diesel::table! {
    set_aside (kind, id, number) {
        kind -> Text,
        id -> Text,
        number -> Integer,
        document -> Binary,
        is_lost -> Bool,
    }
}

diesel::table! {
    typefaces (id) {
        id -> Text,
        name -> Text,
        font -> Binary,
        face_index -> Integer,
        weight -> Nullable<Float>,
        licence -> Text,
        created_at -> BigInt,
    }
}

diesel::table! {
    starters (id) {
        id -> Text,
        document -> Text,
        created_at -> BigInt,
        name -> Text,
        deleted_at -> Nullable<BigInt>,
    }
}

diesel::table! {
    filaments (id) {
        id -> Text,
        place -> BigInt,
        name -> Text,
        colour -> Text,
        material -> Text,
        density -> Double,
        spool_price -> Double,
        spool_mass -> Double,
    }
}

diesel::table! {
    meshes (id) {
        id -> Text,
        name -> Text,
        file -> Binary,
        triangles -> Integer,
        is_mended -> Bool,
        created_at -> BigInt,
    }
}

diesel::table! {
    shapes (id) {
        id -> Text,
        name -> Text,
        document -> Binary,
        colour -> Nullable<Text>,
        drawing -> Nullable<Text>,
        choice -> Nullable<Text>,
        created_at -> BigInt,
    }
}

diesel::table! {
    drawings (id) {
        id -> Text,
        name -> Text,
        file -> Binary,
        created_at -> BigInt,
    }
}

diesel::table! {
    printers (id) {
        id -> Text,
        document -> Text,
        created_at -> BigInt,
        following -> Nullable<Text>,
    }
}

diesel::joinable!(revisions -> pieces (piece_id));
diesel::joinable!(piece_uses -> pieces (piece_id));
diesel::allow_tables_to_appear_in_same_query!(pieces, revisions, piece_uses);
