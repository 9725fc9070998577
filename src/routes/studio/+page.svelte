<h1>Plum Thread</h1>
