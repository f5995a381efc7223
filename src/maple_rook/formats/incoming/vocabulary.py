"""Headings and knife types as lists from elsewhere write them: words of the trade, from memory.

One language a table; a heading is matched without accents, capitals and punctuation.
"""

from __future__ import annotations

GERMAN = {
    "tag": "Artikelnr.; Art.-Nr.; Artikelnummer; Inventarnummer; Messernummer",
    "maker": "Hersteller; Marke; Schmied",
    "line": "Serie; Modell; Produktlinie; Bezeichnung",
    "knife_type": "Messertyp; Messerart; Typ",
    "nominal": "Nennlänge; Größe; Nennmaß",
    "steel": "Stahl; Klingenstahl; Stahlsorte",
    "price": "Preis; Verkaufspreis; VK",
    "condition": "Zustand",
    "note": "Bemerkung; Bemerkungen; Notiz; Anmerkung",
    "taken_at": "gemessen am; Messdatum",
    "person": "gemessen von; Prüfer",
    "handle": "Griff; Griffmaterial",
    "construction": "Aufbau; Klingenaufbau",
    "weight": "Gewicht",
    "edge_length": "Schneidenlänge; Klingenlänge",
    "overall_length": "Gesamtlänge",
    "handle_length": "Grifflänge",
    "spine_heel": "Rückenstärke; Klingenstärke; Klingendicke; Rückenstärke am Kropf",
    "spine_mid": "Rückenstärke Mitte",
    "height_heel": "Klingenhöhe; Klingenbreite",
    "thickness_behind_edge": "Dicke hinter der Schneide; Stärke hinter der Schneide",
    "edge_angle": "Schleifwinkel; Schneidenwinkel; Winkel pro Seite",
    "hardness": "Härte; Rockwellhärte",
    "balance_point": "Schwerpunkt; Balancepunkt",
}
FRENCH = {
    "tag": "Référence; Réf.; Numéro d'article; N° d'article",
    "maker": "Fabricant; Marque; Coutelier; Forgeron",
    "line": "Gamme; Modèle; Série; Désignation",
    "knife_type": "Type de couteau; Type",
    "nominal": "Taille; Longueur nominale",
    "steel": "Acier; Nuance d'acier",
    "price": "Prix; Prix TTC; Prix de vente",
    "condition": "État",
    "note": "Remarque; Remarques; Observation",
    "taken_at": "Mesuré le; Date de mesure",
    "person": "Mesuré par",
    "handle": "Manche",
    "weight": "Poids",
    "edge_length": "Longueur du tranchant; Longueur du fil",
    "blade_length": "Longueur de lame; Longueur de la lame",
    "overall_length": "Longueur totale",
    "handle_length": "Longueur du manche",
    "spine_heel": "Épaisseur; Épaisseur du dos; Épaisseur au talon; Épaisseur de lame",
    "height_heel": "Hauteur de lame; Hauteur au talon; Hauteur de la lame",
    "thickness_behind_edge": "Épaisseur derrière le tranchant; Épaisseur derrière le fil",
    "edge_angle": "Angle d'affûtage; Angle par face",
    "hardness": "Dureté",
    "balance_point": "Point d'équilibre",
}
SPANISH = {
    "tag": "Referencia; Código; N.º de artículo; Número de artículo",
    "maker": "Fabricante; Marca; Cuchillero; Herrero",
    "line": "Modelo; Línea; Serie; Denominación",
    "knife_type": "Tipo de cuchillo; Tipo",
    "nominal": "Tamaño; Longitud nominal",
    "steel": "Acero; Tipo de acero",
    "price": "Precio; PVP",
    "condition": "Estado",
    "note": "Nota; Observaciones",
    "taken_at": "Fecha; Medido el; Fecha de medición",
    "person": "Medido por",
    "handle": "Mango",
    "weight": "Peso",
    "edge_length": "Longitud del filo",
    "blade_length": "Longitud de la hoja; Largo de hoja; Longitud de hoja",
    "overall_length": "Longitud total; Largo total",
    "handle_length": "Longitud del mango",
    "spine_heel": "Espesor; Grosor; Espesor del lomo; Grosor del lomo",
    "height_heel": "Altura de la hoja; Altura de hoja; Altura",
    "thickness_behind_edge": "Espesor tras el filo; Grosor tras el filo",
    "edge_angle": "Ángulo de afilado; Ángulo por lado; Ángulo",
    "hardness": "Dureza",
    "balance_point": "Punto de equilibrio",
}
ITALIAN = {
    "tag": "Codice; Codice articolo; Articolo",
    "maker": "Produttore; Marca; Coltellinaio",
    "line": "Modello; Linea; Serie",
    "knife_type": "Tipo di coltello; Tipo",
    "nominal": "Misura; Lunghezza nominale",
    "steel": "Acciaio; Tipo di acciaio",
    "price": "Prezzo",
    "condition": "Condizione; Stato",
    "note": "Osservazioni",
    "taken_at": "Misurato il",
    "person": "Misurato da",
    "handle": "Manico",
    "weight": "Peso",
    "edge_length": "Lunghezza del filo; Lunghezza filo",
    "blade_length": "Lunghezza lama; Lunghezza della lama",
    "overall_length": "Lunghezza totale",
    "handle_length": "Lunghezza manico; Lunghezza del manico",
    "spine_heel": "Spessore; Spessore del dorso; Spessore dorso",
    "height_heel": "Altezza lama; Altezza della lama; Altezza",
    "thickness_behind_edge": "Spessore dietro il filo",
    "edge_angle": "Angolo di affilatura; Angolo per lato",
    "hardness": "Durezza",
    "balance_point": "Punto di equilibrio; Bilanciamento",
}
DUTCH = {
    "tag": "Artikelnummer; Artikelnr.",
    "maker": "Fabrikant; Merk; Smid",
    "line": "Model; Serie; Lijn",
    "knife_type": "Type mes; Mestype; Soort mes",
    "nominal": "Maat",
    "steel": "Staal; Staalsoort",
    "price": "Prijs; Verkoopprijs",
    "condition": "Staat",
    "note": "Opmerking; Opmerkingen",
    "taken_at": "Gemeten op; Meetdatum",
    "person": "Gemeten door",
    "handle": "Greep; Handvat; Heft",
    "weight": "Gewicht",
    "edge_length": "Snedelengte; Lengte van de snede",
    "blade_length": "Lemmetlengte; Bladlengte",
    "overall_length": "Totale lengte",
    "handle_length": "Greeplengte",
    "spine_heel": "Rugdikte; Lemmetdikte; Dikte; Dikte van de rug",
    "height_heel": "Lemmethoogte; Bladhoogte; Hoogte",
    "thickness_behind_edge": "Dikte achter de snede",
    "edge_angle": "Slijphoek; Hoek per zijde",
    "hardness": "Hardheid",
    "balance_point": "Balanspunt; Zwaartepunt",
}
JAPANESE = {
    "tag": "品番; 商品番号; 管理番号",
    "maker": "メーカー; 作者; 製造元; 銘",
    "line": "シリーズ; 型番; 品名",
    "knife_type": "種類; 包丁の種類",
    "nominal": "サイズ; 寸法",
    "steel": "鋼材; 鋼種; 刃材",
    "price": "価格; 値段; 販売価格",
    "condition": "状態",
    "note": "備考; メモ",
    "taken_at": "測定日; 日付",
    "person": "測定者",
    "handle": "柄; ハンドル",
    "weight": "重量; 重さ",
    "edge_length": "刃渡り; 刃長",
    "blade_length": "刀身の長さ",
    "overall_length": "全長",
    "handle_length": "柄の長さ; 柄長",
    "spine_heel": "峰厚; 峰の厚み; 背厚; 元厚",
    "height_heel": "刃幅; 刃元の幅; 刃の高さ",
    "thickness_behind_edge": "刃先の厚み; 刃先厚",
    "edge_angle": "刃角; 研ぎ角度; 刃付け角度",
    "hardness": "硬度; 硬さ",
    "balance_point": "重心",
}
LANGUAGES = (GERMAN, FRENCH, SPANISH, ITALIAN, DUTCH, JAPANESE)
"""What a column is, by the field of the record, as people of each language head it."""
KNIFE_TYPES = {
    "western_chef": "Kochmesser; Chefmesser; Couteau de chef; Cuchillo de chef; Cuchillo cocinero; "
    "Coltello da chef; Coltello da cuoco; Koksmes; 洋包丁",
    "gyuto": "牛刀; 牛刀包丁",
    "santoku": "Santokumesser; Couteau santoku; 三徳; 三徳包丁",
    "petty": "Allzweckmesser; Couteau d'office japonais; Cuchillo multiusos; Coltello multiuso; "
    "Universeel mes; ペティ; ペティナイフ",
    "paring": "Schälmesser; Spickmesser; Couteau d'office; Cuchillo mondador; Puntilla; "
    "Spelucchino; Schilmesje; Aardappelmesje; 皮むき",
    "slicer": "Tranchiermesser; Schinkenmesser; Couteau à trancher; Tranchelard; "
    "Cuchillo fileteador; Cuchillo jamonero; Coltello per affettare; Trancheermes; Vleesmes; "
    "筋引; 筋引き",
    "single_bevel_slicer": "柳刃; 柳刃包丁; 刺身包丁; 柳",
    "nakiri": "Gemüsemesser; Couteau à légumes; Cuchillo para verduras; Cuchillo verdulero; "
    "Coltello per verdure; Groentemes; 菜切; 菜切り; 菜切包丁",
    "vegetable_cleaver": "Chinesisches Kochmesser; Couperet chinois; Cuchilla china; "
    "Mannaia cinese; Chinees koksmes; 中華包丁",
    "bone_chopper": "Hackmesser; Hackbeil; Couperet; Hachette; Hachuela; Macheta; Mannaia; Hakmes; "
    "Hakbijl; 骨切り",
    "honesuke": "Ausbeinmesser; Couteau à désosser; Désosseur; Cuchillo deshuesador; Coltello "
    "disosso; Uitbeenmes; 骨すき; サバキ",
    "deba": "出刃; 出刃包丁",
    "serrated": "Brotmesser; Wellenschliff; Couteau à pain; Cuchillo panero; Cuchillo de pan; "
    "Coltello da pane; Broodmes; パン切り; パン切り包丁",
}
"""Knife types as each language calls them; *kitchen knife for vegetables* is the nakiri's."""


def words(table: dict[str, str]) -> list[tuple[str, str]]:
    """Each word of a table, and what it means.

    >>> words({"weight": "Gewicht; Poids"})
    [('Gewicht', 'weight'), ('Poids', 'weight')]
    """
    return [(word.strip(), key) for key, said in table.items() for word in said.split(";")]
